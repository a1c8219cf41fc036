'use client';

import { Flex, Link, Text } from '@chakra-ui/react';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { Age } from './age';

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
