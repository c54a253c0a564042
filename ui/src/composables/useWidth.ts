import { onMounted, onScopeDispose, shallowRef, useTemplateRef } from 'vue'

/** The width in pixels of the element with a template ref, as it changes. */
export function useWidth(name: string, first: number) {
  const element = useTemplateRef<HTMLElement>(name)
  const width = shallowRef(first)
  const observer = new ResizeObserver(([entry]) => {
    if (entry && entry.contentRect.width > 0) width.value = entry.contentRect.width
  })
  onMounted(() => element.value && observer.observe(element.value))
  onScopeDispose(() => observer.disconnect())
  return width
}
