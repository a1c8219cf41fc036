'use client';

import { Box, chakra, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import type { Audit } from '@/core/hearing/audit/index';
import { formatDb } from '../format';
import { useDesk, useDeskState } from './desk-context';

const Link = chakra(NextLink);

/** `No loop possible`, `margin 21 dB`, `2 things` */
export function auditInWords(audit: Audit, accepted: Record<string, string>): string {
  const urgent = audit.findings.filter(({ key, urgent: isUrgent }) => isUrgent && accepted[key] === undefined).length;
  if (urgent > 0) return urgent === 1 ? '1 urgent thing' : `${urgent} urgent things`;
  return Number.isFinite(audit.marginDb) ? `loop margin ${formatDb(audit.marginDb)}` : 'no loop possible';
}

/** The audit's verdict in one line, leading to the grid. */
export function AuditState() {
  const desk = useDesk();
  const audit = useDeskState((state) => state.audit);
  const accepted = useDeskState((state) => state.plan.accepted);
  const urgent = audit.findings.some(({ key, urgent: isUrgent }) => isUrgent && accepted[key] === undefined);
  return (
    <Link href={`/episodes/${desk.data.episode.id}/hearing`} display="flex" alignItems="center" gap="7px" fontSize="13px" title="The audit of who hears what">
      <Box boxSize="9px" flex="none" borderRadius={urgent ? '2px' : 'full'} bg={urgent ? 'ember' : 'well'} aria-hidden />
      <Text color={urgent ? 'ember' : 'well'} whiteSpace="nowrap">
        {auditInWords(audit, accepted)}
      </Text>
    </Link>
  );
}
