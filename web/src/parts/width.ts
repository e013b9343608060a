import { useLayoutEffect, useRef, useState } from 'react'

/** The width of an element in pixels, so that a drawing keeps its type size. */
export function useWidth<T extends HTMLElement>(initial: number) {
  const ref = useRef<T>(null)
  const [width, setWidth] = useState(initial)
  useLayoutEffect(() => {
    const element = ref.current
    if (!element) return
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setWidth(Math.round(entry.contentRect.width))
    })
    observer.observe(element)
    setWidth(Math.round(element.clientWidth))
    return () => observer.disconnect()
  }, [])
  return [ref, width] as const
}
