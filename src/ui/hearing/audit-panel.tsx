'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { pathInWords, type Finding } from '@/core/hearing/audit/index';
import { ControlButton, SENTENCE } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { auditInWords, evidenceInWords } from './audit-words';

/** What the audit found, each with its fix. */
export function AuditPanel() {
  const audit = useDeskState((state) => state.audit);
  const accepted = useDeskState((state) => state.plan.accepted);
  const open = audit.findings.filter(({ key }) => accepted[key] === undefined);
  const meant = audit.findings.filter(({ key }) => accepted[key] !== undefined);
  return (
    <Panel title="The audit" aside={auditInWords(audit, accepted)} urgent={open.some(({ urgent }) => urgent)}>
      <Box aria-live="polite">
        {open.length === 0 && (
          <Text fontSize="14px" color="soft">
            {meant.length === 0 ? 'No loop, nothing doubled, nobody left out.' : 'Nothing but what is intended.'}
          </Text>
        )}
        <Text fontSize="12.5px" color="soft" mb={open.length === 0 ? undefined : '8px'}>
          {evidenceInWords(audit.evidence)}
        </Text>
        {open.map((finding) => (
          <FindingEntry key={finding.key} finding={finding} />
        ))}
        {meant.map(({ key, sentence }) => (
          <MeantEntry key={key} findingKey={key} sentence={sentence} reason={accepted[key]} />
        ))}
      </Box>
    </Panel>
  );
}

/** One finding: the sentence, the path, what mends it and what that changes, or that it is meant. */
export function FindingEntry({ finding }: { finding: Finding }) {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  return (
    <Box role="group" aria-label={finding.sentence} _notFirst={{ mt: '10px', pt: '10px', borderTopWidth: '1px', borderColor: 'hairline' }}>
      {finding.later && (
        <Text fontSize="12.5px" color="tide">
          Not now, but as soon as {finding.later}:
        </Text>
      )}
      <Text fontSize="14px" lineHeight="1.4">
        {finding.sentence}
      </Text>
      {finding.noted && (
        <Text fontSize="12.5px" color="soft">
          By numbers noted or typical, not measured.
        </Text>
      )}
      {finding.path.length > 2 && (
        <Text fontSize="12.5px" color="soft" mt="3px">
          {pathInWords(plan, finding.path)}
        </Text>
      )}
      <Flex gap="7px" mt="7px" wrap="wrap">
        {finding.fixes.map((fix, place) => (
          <ControlButton key={fix.label} {...SENTENCE} fontSize="13.5px" tone={place === 0 && finding.urgent ? 'lamp' : 'plain'} title={fix.effect} onClick={() => desk.mend(fix)}>
            {fix.label}
          </ControlButton>
        ))}
        <ControlButton
          h="30px"
          fontSize="13.5px"
          onClick={() => desk.plan.change((current) => ({ ...current, accepted: { ...current.accepted, [finding.key]: 'intended' } }))}
        >
          This is intended
        </ControlButton>
      </Flex>
      {finding.fixes[0] && (
        <Text fontSize="12.5px" color="soft" mt="5px">
          {finding.fixes[0].effect}
        </Text>
      )}
    </Box>
  );
}

function MeantEntry({ findingKey, sentence, reason }: { findingKey: string; sentence: string; reason: string }) {
  const desk = useDesk();
  const setReason = (text: string) =>
    desk.plan.change((plan) => ({ ...plan, accepted: { ...plan.accepted, [findingKey]: text } }), `reason:${findingKey}`);
  const lookAgain = () =>
    desk.plan.change((plan) => {
      const { [findingKey]: _, ...accepted } = plan.accepted;
      return { ...plan, accepted };
    });
  return (
    <Box mt="10px" pt="10px" borderTopWidth="1px" borderColor="hairline">
      <Text fontSize="13px" color="soft">
        {sentence}
      </Text>
      <Flex gap="7px" mt="6px">
        <Box asChild flex="1" fontSize="13px" bg="raised" borderWidth="1px" borderColor="hairline" borderRadius="control" px="8px" h="28px">
          <input aria-label={`Why this is intended: ${sentence}`} maxLength={500} value={reason} onChange={(event) => setReason(event.target.value)} />
        </Box>
        <ControlButton h="28px" fontSize="13px" onClick={lookAgain}>
          Warn me again
        </ControlButton>
      </Flex>
    </Box>
  );
}
