import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue'

/** Width in px of an element, kept up to date. */
export function useWidth(element: Ref<HTMLElement | null>, first = 1000) {
  const width = ref(first)
  const observer = new ResizeObserver(([entry]) => {
    if (entry) width.value = entry.contentRect.width
  })
  onMounted(() => element.value && observer.observe(element.value))
  onBeforeUnmount(() => observer.disconnect())
  return width
}
