'use client';

import { Box, Flex, Input, Link, Text } from '@chakra-ui/react';
import { useState, type FormEvent } from 'react';
import { useShallow } from 'zustand/react/shallow';
import type { Station } from '@/core/air/station';
import { isLost, isOn, type Standing } from '@/live/air/air-state';
import { mixTitle } from '../devices/outlet-words';
import { momentInWords } from '../moment';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { figuresInWords, loudnessInWords, stateInWords } from './air-words';

/** The show's stations on Live: on the air and off it, how it goes, and what listeners read. */
export function AirStrip() {
  const stations = useDeskState((state) => state.air.stations);
  const on = useDeskState((state) => state.air.stations.some(({ id }) => isOn(state.air.broadcasts[id])));
  const lost = useDeskState((state) => Object.values(state.air.broadcasts).some(isLost));
  if (stations.length === 0) return null;
  return (
    <Panel title="On the air" urgent={lost} aside={on ? undefined : 'nothing is'}>
      {stations.map((station) => (
        <StationLine key={station.id} station={station} />
      ))}
      {on && <TitleLine />}
    </Panel>
  );
}

function StationLine({ station: { id, settings } }: { station: Station }) {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const running = useDeskState((state) => state.call === 'running');
  const broadcast = useDeskState(useShallow(({ air }) => air.broadcasts[id] && standing(air.broadcasts[id])));
  const nothingSent = useDeskState(({ air }) => (air.broadcasts[id]?.bytes ?? 0) === 0);
  const heard = useDeskState((state) => (broadcast && state.air.heard?.broadcast === broadcast.id ? state.air.heard : null));
  const on = isOn(broadcast);
  const lost = isLost(broadcast);
  return (
    <Box role="group" aria-label={settings.name} fontSize="13px" _notFirst={{ mt: '10px' }}>
      <Flex justify="space-between" gap="8px" align="center">
        <Box minW="0">
          <Text fontWeight="600" truncate title={settings.name}>
            {mixTitle(plan, settings.listener)} → {settings.name}
          </Text>
          <Text role="status" color={lost ? 'ember' : on && broadcast.state === 'on' ? 'lampCore' : 'soft'}>
            {stateInWords(broadcast)}
            {on && broadcast.onSince && ` since ${momentInWords(broadcast.onSince, null, 'clock')}`}
          </Text>
        </Box>
        <ControlButton flex="none" h="30px" px="10px" tone={on ? 'lit' : 'plain'} disabled={!on && !running} title={running || on ? undefined : 'Start the call first'} aria-label={`${on ? 'Take' : 'Put'} ${settings.name} ${on ? 'off' : 'on'} the air`} onClick={() => void (on ? desk.air.stop(id) : desk.air.start(id))}>
          {on ? 'Off the air' : 'Go on the air'}
        </ControlButton>
      </Flex>
      {broadcast && broadcast.reason !== '' && (
        <Text color={lost ? 'ember' : 'soft'}>{broadcast.reason}</Text>
      )}
      {on && (
        <>
          <Text color="soft">
            <Figures station={id} />
          </Text>
          <Text color="soft">
            <Loudness broadcast={broadcast.id} levelled={settings.levelled} />
          </Text>
          <Flex gap="8px" align="center" mt="4px" wrap="wrap">
            <ControlButton h="28px" px="10px" aria-pressed={heard !== null} tone={heard ? 'tide' : 'plain'} disabled={nothingSent} onClick={() => desk.air.hear(heard ? null : broadcast.id)}>
              Hear what they hear
            </ControlButton>
            {heard && (
              <Text role="status" color={heard.trouble ? 'ember' : 'soft'}>
                {heard.trouble || (heard.delayMs === null ? 'listening for its delay …' : `${(heard.delayMs / 1000).toFixed(1)} s behind you`)}
              </Text>
            )}
          </Flex>
        </>
      )}
      {broadcast && (
        <Link href={`/api/episodes/${desk.data.episode.id}/air/${broadcast.id}/titles`} download fontSize="13px" color="soft" textDecoration="underline" aria-label={`List of titles of ${settings.name}`}>
          List of titles
        </Link>
      )}
    </Box>
  );
}

/** How the stream goes: nothing around it is drawn when only this changes. */
function Figures({ station }: { station: string }) {
  return useDeskState(({ air: { broadcasts, readings, delaysMs } }) => {
    const broadcast = broadcasts[station];
    return broadcast ? figuresInWords(broadcast, readings[broadcast.id], delaysMs[broadcast.id] ?? null).join(' · ') : '';
  });
}

function Loudness({ broadcast, levelled }: { broadcast: string; levelled: boolean }) {
  return useDeskState(({ air: { readings } }) => (readings[broadcast] ? `Sent at ${loudnessInWords(readings[broadcast], levelled)}` : ''));
}

const standing = ({ id, state, reason, onSince, endedAt, ending }: Standing): Standing => ({ id, state, reason, onSince, endedAt, ending });

/** What listeners read: it follows what plays and who is in, until something is typed. */
function TitleLine() {
  const desk = useDesk();
  const title = useDeskState(({ air }) => air.title);
  const typed = useDeskState(({ air }) => air.typed);
  const [words, setWords] = useState('');
  const say = (event: FormEvent) => {
    event.preventDefault();
    desk.air.type(words);
    setWords('');
  };
  return (
    <Box borderTopWidth="1px" borderColor="hairline" mt="10px" pt="8px" fontSize="13px">
      <Text>
        <Text as="span" color="soft">
          Title{typed === null ? '' : ', typed'}:{' '}
        </Text>
        {title}
      </Text>
      <form onSubmit={say}>
        <Flex gap="6px" mt="6px">
          <Input size="sm" aria-label="Another title" placeholder="another title" maxLength={250} bg="ground" borderColor="hairline" value={words} onChange={(event) => setWords(event.target.value)} />
          {words.trim() === '' && typed !== null ? (
            <ControlButton h="32px" px="10px" flex="none" onClick={() => desk.air.type(null)}>
              Follow again
            </ControlButton>
          ) : (
            <ControlButton type="submit" h="32px" px="10px" flex="none" disabled={words.trim() === ''}>
              Say it
            </ControlButton>
          )}
        </Flex>
      </form>
    </Box>
  );
}
