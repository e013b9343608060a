import { useLayoutEffect, useRef, useState, useSyncExternalStore } from 'react'

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

/** Whether there is room for what stands beside each other at a desk. */
const desk = '(min-width: 64rem)'

export function useWide(): boolean {
  return useSyncExternalStore(watchDesk, () => matchMedia(desk).matches)
}

function watchDesk(tell: () => void): () => void {
  const media = matchMedia(desk)
  media.addEventListener('change', tell)
  return () => media.removeEventListener('change', tell)
}
