import { useLayoutEffect, useRef, useState } from 'react'

/** The width of an element in pixels, so that a drawing keeps its type size, and its height. */
export function useWidth<T extends Element>(initial: number) {
  const ref = useRef<T>(null)
  const [width, setWidth] = useState(initial)
  const [height, setHeight] = useState(0)
  useLayoutEffect(() => {
    const element = ref.current
    if (!element) return
    const observer = new ResizeObserver(([entry]) => {
      if (!entry) return
      setWidth(Math.round(entry.contentRect.width))
      setHeight(Math.round(entry.contentRect.height))
    })
    observer.observe(element)
    setWidth(Math.round(element.clientWidth))
    return () => observer.disconnect()
  }, [])
  return [ref, width, height] as const
}
