'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { deviceName } from '@/core/devices/device';
import { cableOf } from '@/core/devices/known-devices';
import { phonesOf, voiceOf } from '@/core/hearing/ids';
import type { InputHeard } from '@/core/measure/find-microphone';
import { findMicrophone, type InputTroubled } from '@/live/check/find-microphone';
import { formatLevel } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';

/** Later than this, a voice in its own phones disturbs whoever speaks, ms. */
const LATE_MS = 10;

/** The host's own sound, as carefully as a guest's: the right microphone, and how late one's own voice would be. */
export function MyMicrophonePanel() {
  return (
    <Panel title="My own sound">
      <FindMicrophone />
      <OwnVoice />
    </Panel>
  );
}

/** Opens every input for three seconds while the host speaks, and says which of them hears best. */
function FindMicrophone() {
  const desk = useDesk();
  const known = useDeskState(({ plugged }) => plugged.devices.known);
  const host = useDeskState(({ seats }) => seats.find(({ role }) => role === 'host')?.id ?? '');
  const chosen = useDeskState(({ plugged }) => plugged.choices.inputs.find(({ source }) => source === voiceOf(host))?.device ?? null);
  const [state, setState] = useState<'idle' | 'listening' | { heard: InputHeard[]; troubled: InputTroubled[] }>('idle');
  const plugged = useDeskState((state) => state.plugged.choices);
  // Inputs that bring somebody else, and the other ends of cables that mixes leave by: there the host is heard by way of the call.
  const others = new Set([...plugged.inputs.filter(({ source }) => source !== voiceOf(host)), ...plugged.outlets].map(({ device }) => device));
  const cables = new Set(known.filter(({ key }) => others.has(key)).map(cableOf).filter((cable) => cable !== null));
  const inputs = known.filter((one) => one.kind === 'input' && one.here && !one.simulated && !others.has(one.key) && !cables.has(cableOf(one) ?? ''));
  const nameOf = (key: string): string => {
    const device = inputs.find((one) => one.key === key);
    return device ? deviceName(device) : key;
  };
  const find = async () => {
    setState('listening');
    setState(await findMicrophone(inputs).catch(() => ({ heard: [], troubled: inputs.map(({ key }) => ({ key, reason: 'it could not be opened' })) })));
  };
  return (
    <Box>
      <ControlButton h="32px" disabled={inputs.length === 0 || state === 'listening'} onClick={() => void find()}>
        Find my microphone
      </ControlButton>
      <Text fontSize="13px" color="soft" mt="6px" role="status">
        {inputs.length === 0
          ? 'No microphone is known yet: allow the browser to use one in Prepare.'
          : state === 'listening'
            ? 'Speak now, for three seconds …'
            : state === 'idle'
              ? `Opens ${inputs.length === 1 ? 'the one input' : `all ${inputs.length} inputs`} for three seconds while you speak.`
              : state.heard[0]?.hears
                ? `${nameOf(state.heard[0].key)} hears you best${state.heard[0].key === chosen ? ', and it is chosen.' : '.'}`
                : 'None of them hears you.'}
      </Text>
      {typeof state === 'object' && (
        <Box as="ul" listStyleType="none" mt="6px" fontSize="13px">
          {state.heard.map(({ key, speechDb, aboveRoomDb, hears }) => (
            <Flex as="li" key={key} align="center" gap="8px" py="4px" borderTopWidth="1px" borderColor="hairline">
              <Text flex="1" minW="0" truncate title={nameOf(key)} color={hears ? 'text' : 'soft'}>
                {nameOf(key)}
              </Text>
              <Text fontFamily="mono" fontSize="12.5px" color="soft" whiteSpace="nowrap">
                {speechDb === null ? 'silent' : `${formatLevel(speechDb)} dB, ${Math.round(aboveRoomDb)} over room`}
              </Text>
              {key === chosen ? (
                <Text color="well">chosen</Text>
              ) : (
                <ControlButton h="26px" px="8px" fontSize="12.5px" disabled={!hears} aria-label={`Use ${nameOf(key)}`} onClick={() => desk.chooseMicrophone({ device: key, channels: 'left' })}>
                  Use
                </ControlButton>
              )}
            </Flex>
          ))}
          {state.troubled.map(({ key, reason }) => (
            <Text as="li" key={key} color="soft" py="4px">
              {nameOf(key)}: {reason}
            </Text>
          ))}
        </Box>
      )}
    </Box>
  );
}

/** How late the host would hear themselves through the desk: the way of a probe from phones to microphone is the same two devices. */
function OwnVoice() {
  const desk = useDesk();
  const host = useDeskState(({ seats }) => seats.find(({ role }) => role === 'host')?.id ?? '');
  const alone = useDeskState((state) => state.oneChecks[phonesOf(host)]);
  const ready = useDeskState(({ call, check, recording }) => call === 'running' && check === null && recording === null);
  const way = alone?.ways.find(({ to }) => to === voiceOf(host));
  return (
    <Box mt="12px" pt="10px" borderTopWidth="1px" borderColor="hairline">
      <ControlButton h="32px" disabled={!ready} onClick={() => void desk.check.startOne(phonesOf(host))}>
        Measure my own delay
      </ControlButton>
      <Text fontSize="13px" color="soft" mt="6px" role="status">
        {!alone
          ? 'Hold your headphones to your microphone and press: how late you would hear your own voice through the desk.'
          : !way
            ? 'Your microphone did not hear your phones. Hold them closer, or turn them up, to measure the delay.'
            : way.delayMs <= LATE_MS
              ? `${way.delayMs.toFixed(1)} ms from phones to microphone: early enough to hear yourself through the desk.`
              : `${way.delayMs.toFixed(1)} ms from phones to microphone, and so late would be your own voice. Listen by the direct monitoring of your interface; the desk keeps your voice out of your phones.`}
      </Text>
    </Box>
  );
}
