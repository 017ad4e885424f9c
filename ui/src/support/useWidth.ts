import { onBeforeUnmount, ref, watch, type Ref } from 'vue'

/** Width in px of an element, kept up to date, also when it comes later than its component. */
export function useWidth(element: Ref<HTMLElement | null>, first = 1000) {
  const width = ref(first)
  const observer = new ResizeObserver(([entry]) => {
    if (entry && entry.contentRect.width > 0) width.value = entry.contentRect.width
  })
  watch(
    element,
    (now, before) => {
      if (before) observer.unobserve(before)
      if (now) observer.observe(now)
    },
    { immediate: true, flush: 'post' },
  )
  onBeforeUnmount(() => observer.disconnect())
  return width
}
