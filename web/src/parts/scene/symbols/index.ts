// One symbol for each thing a scene has, drawn as a service manual would: ink strokes on
// flat sheet fills. Polarity is said by its sign and by stripes, never by colour alone.
import type { SymbolName } from '../../../api/types'
import * as above from './above'
import * as battery from './battery'
import * as circuit from './circuit'
import type { Symbol } from './drawn'
import * as settings from './settings'
import * as tools from './tools'
import * as vehicles from './vehicles'

export const symbols: Record<SymbolName, Symbol> = {
  ...above,
  ...battery,
  ...circuit,
  ...settings,
  ...tools,
  ...vehicles,
}
