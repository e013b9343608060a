// Names for the generated types of the API, with the nulls that the description
// cannot express on references.
import type { components } from './gen/schema'

type S = components['schemas']

export type Statement = S['Statement']
export type Verdict = S['Verdict']
export type Finding = Omit<S['Finding'], 'way_out' | 'limit' | 'margin'> & {
  way_out?: Statement | null
  limit: S['Limit'] | null
  margin?: S['Margin'] | null
}
export type Assessment = Omit<S['Assessment'], 'charge_state' | 'findings'> & {
  charge_state: S['ChargeState'] | null
  findings: Finding[]
}
export type Effect = S['Effect']
export type Methods = Omit<S['Methods'], 'load' | 'conductance'> & { load: Power | null; conductance: Power | null }
export type Power = S['Power']
export type Hunt = Omit<S['Hunt'], 'whole'> & { whole: S['Carried'] | null }
export type ReservePlan = S['ReservePlan']
export type Account = S['Account']
export type Picture = Omit<S['Picture'], 'rested' | 'unrested' | 'expected' | 'methods' | 'reserve' | 'hunt'> & {
  rested: S['VoltsPoint'] | null
  unrested: S['VoltsPoint'] | null
  expected: Omit<S['Expected'], 'fit'> & { fit: S['Fit'] | null }
  methods: Methods
  reserve: ReservePlan | null
  hunt: Hunt
}
export type Scene = S['Scene']
export type ScenePart = S['Part']
export type SceneLead = S['Lead']
export type Stage = S['Stage']
export type ReadingView = S['ReadingView']
export type BatteryOnJob = Omit<S['BatteryOnJob'], 'assessment' | 'picture'> & {
  assessment: Assessment
  picture: Picture
}
export type JobPage = Omit<S['JobPage'], 'batteries' | 'customer' | 'vehicle'> & {
  batteries: BatteryOnJob[]
  customer: S['Customer'] | null
  vehicle: S['Vehicle'] | null
}
/** One change as the stream of events tells it. */
export type Change = { id: number; job_id?: string; revision: number; person_id?: string; kind: string; at: string }
export type ClockKind = S['Clock']
export type Clocks = S['Clocks']
export type RunningClock = S['RunningClock']
export type Step = S['Step']
export type Work = S['Work']
export type Question = S['Question']
export type Mounting = S['Mounting']
export type FieldInfo = S['Description']
export type Desk = S['Desk']
export type Instrument = S['Instrument']
export type InstrumentNow = S['InstrumentNow']
export type Photo = S['Photo']
export type Preview = Omit<S['Preview'], 'assessment' | 'picture' | 'findings'> & {
  assessment: Assessment
  picture: Picture
  findings: Finding[]
}
export type Hello = Omit<S['Hello'], 'person' | 'shop'> & { person: S['Person'] | null; shop: S['Shop'] | null }
export type Today = S['Today']
export type TodayRow = S['TodayRow']
export type BatteryPage = S['BatteryPage']
export type FoundVehicle = S['FoundVehicle']
export type Person = S['Person']
export type Label = S['Label']
export type LabelSaid = S['BatteryInput']['label']
export type VehicleBody = S['VehicleInput']
export type Choices = S['Choices']
export type Choice = S['Choice']
export type ProblemBody = S['Problem']
export type ProblemField = S['ProblemField']
export type BringInBody = S['BringInInputBody']
export type BenchPage = S['BenchPage']
export type SumCard = S['SumCard']
export type SumInput = S['SumInput']
export type SumResult = Omit<S['Result'], 'curve'> & { curve?: S['Curve'] | null }
export type SumFigure = S['Figure']
export type Curve = S['Curve']
export type Completions = S['Completions']
export type Source = S['Source']
export type KnownFigure = Omit<S['KnownFigure'], 'limit' | 'own'> & {
  limit?: S['LimitRow'] | null
  own?: S['OwnLimit'] | null
}
