/** Moments at which a colour is looked at, in order. */
import type { Schemas } from '../api/client'

type Moment = Schemas['SwatchSeen']['at']
export const MOMENTS: { at: Moment; words: string }[] = [
  { at: 'wet', words: 'wet' },
  { at: 'scented', words: 'scented' },
  { at: 'cut', words: 'cut' },
  { at: 'week', words: 'a week' },
  { at: 'cured', words: 'cured' },
]
