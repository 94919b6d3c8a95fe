import { compileRulebook } from '@/core/rulebook'
import { demoWorld } from '../demo/world'
import { realisticRulebook } from './realistic'
for (const n of [22,300,1000]) {
const p = compileRulebook(realisticRulebook(n), demoWorld.rates)
for (const [s, st] of Object.entries(p.stages)) { const by: any = {}; for (const c of st.classifiers) by[c.reach] = (by[c.reach]??0)+1; console.log(n, s, st.rules.length, JSON.stringify(by), 'rest', st.rules.filter(r=>r.rest).length) }
}
