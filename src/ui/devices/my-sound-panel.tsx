'use client';

import { Box, Flex, Grid, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { isMadeUp, INPUT_CHANNEL_WORDS, OUTPUT_CHANNEL_WORDS, type InputChannels, type OutputChannels } from '@/core/devices/device';
import { phonesOf, voiceOf } from '@/core/hearing/ids';
import { makeSweep } from '@/core/measure/sweep';
import { PHONES_OUTLET } from '@/live/devices/plug-choices';
import { openMouth } from '@/live/devices/prove-line';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { ChannelSelect, DeviceSelect } from './device-select';
import { PeakMeter } from './peak-meter';
import { permissionInWords } from './permission-words';
import { useTrial } from './use-trial';

const RATE = 48000;
const TONE_MS = 1100;

/** The host's own microphone and phones: chosen once, by their ids, with a level each. */
export function MySoundPanel() {
  const desk = useDesk();
  const host = useDeskState(({ seats }) => seats.find(({ role }) => role === 'host')?.id ?? '');
  const { devices, choices } = useDeskState((state) => state.plugged);
  const call = useDeskState((state) => state.call);
  const voice = useDeskState((state) => state.voice);
  const microphone = choices.inputs.find(({ source }) => source === voiceOf(host)) ?? null;
  const phones = choices.outlets.find(({ id }) => id === PHONES_OUTLET) ?? null;
  const trial = useTrial(microphone, devices.permission === 'granted' || (microphone !== null && isMadeUp(microphone.device)));
  const [said, setSaid] = useState('');
  const chooseMicrophone = (device: string, channels: InputChannels) => desk.chooseMicrophone(device === '' ? null : { device, channels });
  const choosePhones = (device: string, channels: OutputChannels, offsetMs = 0) =>
    setSaid(desk.devices.chooseOutlet(PHONES_OUTLET, device === '' ? null : { listener: phonesOf(host), device, channels, offsetMs }) ?? '');
  const playTone = async (): Promise<void> => {
    setSaid('');
    const { samples } = makeSweep(RATE);
    if (desk.devices.tone(PHONES_OUTLET, samples)) return;
    try {
      const mouth = await openMouth(desk.devices, phones ?? { id: PHONES_OUTLET, listener: phonesOf(host), device: '', channels: 'stereo', offsetMs: 0 });
      mouth.tone(samples);
      setTimeout(() => mouth.close(), TONE_MS);
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  const trouble = permissionInWords(devices);
  return (
    <Panel title="My sound" aside={call === 'running' ? (voice.from === 'microphone' ? 'in the call' : voice.from === 'practice' ? 'the simulated voice speaks' : undefined) : 'before the call'}>
      {trouble && (
        <Flex align="center" gap="10px" mb="8px">
          <Text fontSize="14px" color={devices.permission === 'refused' ? 'ember' : 'soft'} flex="1">
            {trouble}
          </Text>
          {devices.permission === 'unasked' && (
            <ControlButton tone="lamp" h="32px" onClick={() => void desk.devices.owner.ask()}>
              Let me choose
            </ControlButton>
          )}
        </Flex>
      )}
      <Grid templateColumns={{ base: 'minmax(0, 1fr)', lg: 'repeat(2, minmax(0, 1fr))' }} columnGap="24px">
        <Box>
          <Flex gap="10px" align="end">
            <DeviceSelect label="Microphone" kind="input" value={microphone?.device ?? ''} none="what the browser offers" onChange={(device) => chooseMicrophone(device, microphone?.channels ?? 'left')} />
            <ChannelSelect label="Channels of my microphone" words={INPUT_CHANNEL_WORDS} value={microphone?.channels ?? 'left'} onChange={(channels) => microphone && chooseMicrophone(microphone.device, channels)} />
          </Flex>
          <Flex align="center" mt="2px" h="36px">
            <Box flex="1">
              <PeakMeter label="Level of my microphone" peak={trial.peak} idle={microphone ? 'not heard' : 'none chosen'} />
            </Box>
          </Flex>
          {trial.trouble && (
            <Text role="alert" fontSize="13px" color="ember">
              {trial.trouble}
            </Text>
          )}
        </Box>
        <Box>
          <Flex gap="10px" align="end">
            <DeviceSelect label="Phones" kind="output" value={phones?.device ?? ''} none="the output the system offers" onChange={(device) => choosePhones(device, phones?.channels ?? 'stereo')} />
            <ChannelSelect label="Channels of my phones" words={OUTPUT_CHANNEL_WORDS} value={phones?.channels ?? 'stereo'} onChange={(channels) => phones && choosePhones(phones.device, channels, phones.offsetMs)} />
          </Flex>
          <Flex align="center" gap="12px" mt="2px" h="36px">
            <Box flex="1">
              <PeakMeter label="Level of my phones" peak={() => (call === 'running' ? desk.devices.outletPeak(PHONES_OUTLET) : null)} idle="no call runs" />
            </Box>
            <ControlButton h="30px" mt="6px" onClick={() => void playTone()}>
              Play a test tone
            </ControlButton>
          </Flex>
        </Box>
      </Grid>
      <Text role="alert" fontSize="13px" color="ember">
        {said}
      </Text>
      <DeviceNames />
    </Panel>
  );
}

/** What the host calls each device, and whether made-up ones are offered. */
function DeviceNames() {
  const desk = useDesk();
  const { known, offersMadeUp } = useDeskState(({ plugged }) => plugged.devices);
  const real = known.filter(({ simulated }) => !simulated);
  return (
    <Box as="details" mt="8px" fontSize="13px" color="soft">
      <Box as="summary" cursor="pointer">
        Devices of this computer
      </Box>
      <Text my="6px">
        A browser gives two channels of an input. An interface with more offers them in pairs, as devices of their own, where its driver or the system is set to do so.
      </Text>
      {real.map(({ key, kind, label, name, here }) => (
        <Flex key={key} as="label" align="center" gap="8px" py="3px">
          <Text flex="1" minW="0" truncate>
            {kind === 'input' ? 'in' : 'out'} · {label || 'without a name'}
            {here ? '' : ' · away'}
          </Text>
          <Input size="xs" w="150px" maxLength={60} placeholder="my name for it" aria-label={`My name for ${label} (${kind})`} value={name} borderColor="hairline" color="text" onChange={(event) => desk.devices.owner.rename(key, event.target.value)} />
        </Flex>
      ))}
      <Flex mt="6px">
        <ControlButton h="28px" fontSize="13px" aria-pressed={offersMadeUp} onClick={() => desk.devices.owner.offerMadeUp(!offersMadeUp)}>
          {offersMadeUp ? 'Do not offer made-up devices' : 'Offer made-up devices to try things with'}
        </ControlButton>
      </Flex>
    </Box>
  );
}
