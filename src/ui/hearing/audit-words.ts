import type { Audit, Evidence } from '@/core/hearing/audit/index';
import { formatDb } from '../format';

/** `no loop by the plan`, `loop margin 21 dB, as noted`, `2 urgent things`: what is said, and what it rests on. */
export function auditInWords(audit: Audit, accepted: Record<string, string>): string {
  const urgent = audit.findings.filter(({ key, urgent: isUrgent }) => isUrgent && accepted[key] === undefined).length;
  if (urgent > 0) return urgent === 1 ? '1 urgent thing' : `${urgent} urgent things`;
  const said = Number.isFinite(audit.marginDb) ? `loop margin ${formatDb(audit.marginDb)}` : 'no loop';
  return `${said}${basisInWords(audit.evidence)}`;
}

const basisInWords = ({ noted, measured }: Evidence): string => {
  if (noted + measured === 0) return ' by the plan';
  return measured === 0 ? ', as noted' : noted === 0 ? ', as measured' : ', as noted and measured';
};

/** What the audit's verdict rests on, in a sentence. */
export function evidenceInWords({ noted, measured }: Evidence): string {
  if (noted + measured === 0) return 'This is known from the plan alone. Nothing outside the desk was noted or measured: loudspeakers in a guest’s room, or headphones that leak, would not show here.';
  const parts = [noted > 0 ? `${noted} noted` : '', measured > 0 ? `${measured} measured` : ''].filter(Boolean).join(' and ');
  return `This rests on the plan and on ${parts} ${noted + measured === 1 ? 'way' : 'ways'} sound takes outside the desk.`;
}
