import { onBeforeUnmount, reactive } from 'vue'

/** Width and height in px of what can be seen of the page, kept up to date. */
export function useWindow() {
  const size = reactive({ width: window.innerWidth, height: window.innerHeight })
  const measure = () => Object.assign(size, { width: window.innerWidth, height: window.innerHeight })
  window.addEventListener('resize', measure)
  onBeforeUnmount(() => window.removeEventListener('resize', measure))
  return size
}
