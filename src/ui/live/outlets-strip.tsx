'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { carriesNothing, mixTitle, outletMixes, OUTLET_WORDS, standings, standingsOf } from '../devices/outlet-words';
import { PeakMeter } from '../devices/peak-meter';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';

/** Where the program and the feeds leave this computer now; nothing where they are only recorded. */
export function OutletsStrip() {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const choices = useDeskState((state) => state.plugged.choices);
  const outlets = standings(useDeskState((state) => standingsOf(state.plugged)));
  const mixes = outletMixes(plan);
  const own = choices.outlets.filter(({ listener }) => mixes.some(({ id }) => id === listener));
  if (own.length === 0) return null;
  return (
    <Panel title="Outlets" aside={own.some(({ id }) => outlets.some((one) => one.id === id && carriesNothing(one))) ? 'something is missing' : undefined}>
      {own.map(({ id, listener, device }) => {
        const view = outlets.find((one) => one.id === id);
        const name = `${mixTitle(plan, listener)} → ${desk.devices.owner.nameOf(device)}`;
        return (
          <Box key={id} role="group" aria-label={name} fontSize="13px" _notFirst={{ mt: '8px' }}>
            <Flex justify="space-between" gap="8px">
              <Text fontWeight="600" truncate>
                {name}
              </Text>
              <Text flex="none" color={view && carriesNothing(view) ? 'ember' : 'soft'}>
                {view ? (view.state === 'away' ? 'away' : OUTLET_WORDS[view.state]) : 'opens with the call'}
              </Text>
            </Flex>
            <PeakMeter label={`Level of ${name}`} peak={() => (view?.state === 'open' ? desk.devices.outletPeak(id) : null)} idle={view ? 'closed' : 'no call runs'} />
          </Box>
        );
      })}
    </Panel>
  );
}
