// The clocks of the shop with how far the server's time is ahead of this device's.
import type { Clocks } from './types'

export const clocksKey = ['clocks']

export type Counted = Clocks & { offset: number }

export function counted(clocks: Clocks): Counted {
  return { ...clocks, offset: Date.parse(clocks.now) - Date.now() }
}
