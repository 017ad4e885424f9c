import { beforeEach, describe, expect, it, vi } from 'vitest'
import { dayWord, due, moment, spanWords, whenWords } from '../src/support/when'

const now = new Date(2026, 10, 25, 19, 40) // a Wednesday
const at = (day: number, hour = 9, minute = 0) => new Date(2026, 10, day, hour, minute)
const edges = (first: number, sure: number, late: number, until: number) => ({ first, sure, late, until })

const speaks = (language: string) => vi.spyOn(navigator, 'language', 'get').mockReturnValue(language)
beforeEach(() => void speaks('en-GB'))

describe('days and hours', () => {
  it.each([
    ['en-GB', '3 December'],
    ['en-US', 'December 3'],
    ['de', '3 December'],
  ])('stand in the order of %s, in the words of the app', (language, words) => {
    speaks(language)
    expect(dayWord(at(33), now)).toBe(words)
  })

  it('are said as a maker says them', () => {
    const days = [24, 25, 26, 28, 33].map((d) => dayWord(at(d), now))
    expect(days).toEqual(['yesterday', 'today', 'tomorrow', 'Saturday', '3 December'])
    expect(moment(at(26, 12), now)).toBe('noon tomorrow')
    expect(moment(at(25, 23, 50), now)).toBe('midnight tomorrow')
    expect(moment(at(29), now)).toBe('Sunday')
    expect(spanWords(at(26, 9), at(26, 20), now)).toBe('tomorrow 9:00 to 20:00')
    expect(spanWords(at(28), at(29), now)).toBe('Saturday to Sunday')
    expect(spanWords(at(28, 8), at(28, 20), now)).toBe('Saturday')
  })
})

describe('a window', () => {
  const ended = at(24, 18, 20)
  it('is early, open, late and over by its edges', () => {
    const n = edges(20, 26, 40, 60)
    expect([10, 22, 30, 50, 70].map((h) => due(n, h))).toEqual(['later', 'early', 'now', 'late', 'over'])
  })
  it('is told by what can still be done', () => {
    expect(whenWords(edges(20, 24, 42, 60), ended, now)).toBe('now, or by noon tomorrow')
    expect(whenWords(edges(20, 40, 50, 60), ended, now)).toBe('soon, best from 10:00 tomorrow')
    expect(whenWords(edges(30, 40, 47, 60), ended, now)).toBe('tomorrow 10:00 to 17:00')
    expect(whenWords(edges(10, 12, 20, 60), ended, now)).toBe('now: the best time was 14:00')
    expect(whenWords(edges(5, 6, 7, 8), ended, now)).toBe('overdue since 2:00')
    expect(whenWords(edges(168, 168, 336, 336), ended, now)).toBe('from Tuesday')
    expect(whenWords(edges(168, 168, 200, 200), ended, now)).toBe('about Tuesday')
  })
})
