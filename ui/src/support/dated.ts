/** Days in the order the browser's region has them, in the words of the app, which are English. */

const region = () => (navigator.language.startsWith('en') ? navigator.language : 'en-GB')

export const dated = (at: Date, how: Intl.DateTimeFormatOptions) => at.toLocaleString(region(), how)
