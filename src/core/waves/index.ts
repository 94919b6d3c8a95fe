/** The face of waves: what other rooms may use. */
export { type CutOffOutlook, outlook } from './dayPlan'
export { formWaves, type ProposedWave, type WaveOrder, type WaveRule, waveRulesSchema } from './formWaves'
export { pickList, type Wanted } from './pickList'
export { readTote, toteCode } from './tote'
