'use client';

import { Flex, Link, Text } from '@chakra-ui/react';
import { compilePlan } from '@/core/hearing/compile';
import { listInWords, placeName } from '@/core/hearing/names';
import { listenersOf, sourcesOf } from '@/core/hearing/plan';
import { changedSince } from '@/core/linecheck/changed-since';
import type { LineCheck } from '@/core/linecheck/line-check';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { Age } from './age';

/** What is other now than it was then. */
function ChangedSince({ check }: { check: LineCheck }) {
  const plan = useDeskState((state) => state.plan);
  const onAir = useDeskState((state) => state.onAir);
  const people = [...sourcesOf(plan).filter(({ kind }) => kind === 'voice' || kind === 'input'), ...listenersOf(plan).filter(({ kind }) => kind === 'feed')];
  const { places, newcomers } = changedSince(check, compilePlan(plan, { onAir }), people.map(({ id }) => id));
  if (places + newcomers.length === 0) return null;
  const names = newcomers.map((id) => placeName(plan, id));
  return (
    <Text fontSize="14px" mt="6px">
      Since then{places > 0 ? ` ${places === 1 ? '1 place is' : `${places} places are`} planned otherwise` : ''}
      {places > 0 && names.length > 0 ? ', and' : ''}
      {names.length > 0 ? ` ${listInWords(names)} came` : ''}: measure again.
    </Text>
  );
}

/** Where the last check is kept, how old it is, and how it leaves. */
export function KeptPanel() {
  const desk = useDesk();
  const check = useDeskState((state) => state.lastCheck);
  if (!check) return null;
  const save = () => {
    const address = URL.createObjectURL(new Blob([JSON.stringify(check, null, 2)], { type: 'application/json' }));
    const link = document.createElement('a');
    link.href = address;
    link.download = `line-check-${check.at.slice(0, 19).replaceAll(':', '-')}.json`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(address), 1000);
  };
  return (
    <Panel title="Kept with the next take">
      <Text fontSize="14px" color="soft">
        Measured <Age at={check.at} /> in {check.seconds} s. Every take that begins from now on names this check.
      </Text>
      <ChangedSince check={check} />
      <Flex gap="7px" mt="10px" wrap="wrap">
        <ControlButton h="30px" onClick={save}>
          As JSON
        </ControlButton>
        <Link asChild fontSize="14px" alignSelf="center" color="lampCore" textDecoration="underline">
          <a href={`/checks/${desk.data.episode.id}`} target="_blank" rel="noreferrer">
            As a page to print
          </a>
        </Link>
      </Flex>
    </Panel>
  );
}
