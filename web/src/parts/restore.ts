// Where a screen was left: Back finds it scrolled as it was, and the hand on what led away.
// A screen that is come to anew begins at its top.
import { useEffect, useLayoutEffect } from 'react'
import { NavigationType, useLocation, useNavigationType } from 'react-router'

type Left = { page: number; main: number; focus?: { selector: string; at: number } }

/** By the key of an entry of the history; gone with the page, as the entries' keys stay. */
const left = new Map<string, Left>()

const scroller = () => document.querySelector('main')

/** How long what was left is looked for, in milliseconds: a screen may have to be fetched. */
const patience = 1500

export function useRestored() {
  const { key, pathname } = useLocation()
  const how = useNavigationType()
  useEffect(() => {
    const note = () => {
      left.set(key, { ...left.get(key), page: scrollY, main: scroller()?.scrollTop ?? 0 })
    }
    const held = ({ target }: FocusEvent) => {
      const focus = target instanceof Element ? nameOf(target) : undefined
      if (focus) left.set(key, { page: scrollY, main: scroller()?.scrollTop ?? 0, focus })
    }
    addEventListener('scroll', note, { capture: true, passive: true })
    addEventListener('focusin', held)
    return () => {
      removeEventListener('scroll', note, { capture: true })
      removeEventListener('focusin', held)
    }
  }, [key])
  useLayoutEffect(() => {
    const before = how === NavigationType.Pop ? left.get(key) : undefined
    if (before) return bringBack(before)
    if (how !== NavigationType.Push) return
    scrollTo(0, 0)
    scroller()?.scrollTo(0, 0)
  }, [key, pathname, how])
}

/** An element by what finds it again on a page drawn anew. */
function nameOf(element: Element): Left['focus'] {
  const attribute = ['href', 'aria-label', 'id'].find((name) => element.getAttribute(name))
  if (!attribute) return undefined
  const tag = element.tagName.toLowerCase()
  const selector = `${tag}[${attribute}=${JSON.stringify(element.getAttribute(attribute))}]`
  return { selector, at: [...document.querySelectorAll(selector)].indexOf(element) }
}

/** Scrolls and takes hold as it was left, as soon as there is as much to see as there was. */
function bringBack({ page, main, focus }: Left) {
  const until = Date.now() + patience
  let frame = 0
  const look = () => {
    scrollTo(0, page)
    scroller()?.scrollTo(0, main)
    const there = scrollY >= page - 1 && (scroller()?.scrollTop ?? 0) >= main - 1
    const found = focus ? document.querySelectorAll<HTMLElement>(focus.selector)[focus.at] : undefined
    // Whoever has taken hold of something meanwhile keeps it.
    if (there && found && document.activeElement === document.body) found.focus()
    if ((!there || (focus && !found)) && Date.now() < until) frame = requestAnimationFrame(look)
  }
  look()
  return () => cancelAnimationFrame(frame)
}
