'use client';

import { Text } from '@chakra-ui/react';
import { dbInWords, listInWords } from '@/core/hearing/names';
import { checkInWords } from '@/core/linecheck/observe-check';
import { UNSURE_DB } from '@/core/linecheck/repeat';
import { FindingEntry } from '../hearing/audit-panel';
import { useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';

/** What was measured to be wrong, each with what mends it; and what the check could not tell. */
export function FoundPanel() {
  const audit = useDeskState((state) => state.audit);
  const accepted = useDeskState((state) => state.plan.accepted);
  const check = useDeskState((state) => state.lastCheck);
  const open = audit.findings.filter(({ key, urgent }) => urgent && accepted[key] === undefined);
  const deaf = (check?.inputs ?? []).filter(({ floorDb, digitalSilence }) => !digitalSilence && floorDb !== null && floorDb > UNSURE_DB);
  const silentPages = (check?.farEnds ?? []).filter(({ answered }) => !answered);
  const count = open.length === 0 ? 'nothing' : open.length === 1 ? '1 thing' : `${open.length} things`;
  return (
    <Panel title="What was found" aside={check || open.length > 0 ? count : undefined} urgent={open.length > 0}>
      {!check && open.length === 0 && (
        <Text fontSize="14px" color="soft">
          Nothing was measured yet. What the audit knows from the plan alone stands in Hearing.
        </Text>
      )}
      {check && (
        <Text fontSize="14px" color={open.length === 0 ? 'text' : 'soft'} mb="8px">
          {checkInWords(check)}
        </Text>
      )}
      {open.map((finding) => (
        <FindingEntry key={finding.key} finding={finding} />
      ))}
      {check && deaf.length > 0 && (
        <Text fontSize="13.5px" color="soft" mt="10px">
          It was too loud at {listInWords(deaf.map(({ source }) => check.names[source]))} to hear anything weaker than {dbInWords(Math.max(...deaf.map(({ floorDb }) => floorDb!)))} come back. Measure again while nobody speaks.
        </Text>
      )}
      {check && check.broke.length > 0 && (
        <Text fontSize="13.5px" color="soft" mt="10px">
          What {listInWords(check.broke.map((place) => check.names[place] ?? place))} came or left by broke off meanwhile, twice: ways back there may be weaker than they read, or missed. Measure again when the machine has less to do.
        </Text>
      )}
      {check && silentPages.length > 0 && (
        <Text fontSize="13.5px" color="soft" mt="10px">
          No answer from the page of {listInWords(silentPages.map(({ listener }) => check.names[listener]))}: what arrives there is not known.
        </Text>
      )}
    </Panel>
  );
}
