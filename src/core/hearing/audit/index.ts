export { auditPlan, ECHO_DB, HOWL_MARGIN_DB, pathInWords, type Audit, type Evidence } from './audit';
export type { Finding, FindingKind, Fix, Mistake } from './finding';
export { applyChange, backToRule, type PlanChange } from './plan-change';
