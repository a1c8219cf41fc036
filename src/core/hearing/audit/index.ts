export { auditPlan, pathInWords, type Audit, type Evidence } from './audit';
export type { Finding, Mistake } from './finding';
export { applyChange, backToRule, type PlanChange } from './plan-change';
