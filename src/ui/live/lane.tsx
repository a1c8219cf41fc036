'use client';

import { Box, Flex, Grid, Heading, Text } from '@chakra-ui/react';
import { setSource } from '@/core/hearing/edit';
import { sourceSettings, type Source } from '@/core/hearing/plan';
import type { DeskSeat } from '@/core/session/desk-data';
import type { InputView } from '@/live/devices/plugged-state';
import type { HostVoice } from '@/live/desk/desk-state';
import { formatDb } from '../format';
import { LevelSlider } from '../shell/level-slider';
import { useDesk, useDeskState } from '../shell/desk-context';
import { LaneControls } from './lane-controls';
import { LaneLamps } from './lane-lamps';
import { LaneLevel } from './lane-level';
import { BringUp } from './bring-up';
import { LaneLine } from './lane-line';
import { RiddenGain } from './ridden-gain';
import { LaneTrace } from './lane-trace';

const LOWEST_TRIM_DB = -24;
const HIGHEST_TRIM_DB = 12;

/** One source: who, what they say now, who hears them, how loud, and its two controls. */
export function Lane({ source, slot }: { source: Source; slot: number }) {
  const desk = useDesk();
  const on = useDeskState(({ plan }) => sourceSettings(plan, source.id).on);
  const ducks = useDeskState(({ plan }) => plan.ducking[source.id]?.on ?? false);
  const trimDb = useDeskState(({ plan }) => sourceSettings(plan, source.id).trimDb);
  return (
    <Grid
      as="article"
      aria-label={source.name}
      templateColumns="152px minmax(120px, 1fr) auto 74px 96px 136px"
      columnGap="14px"
      alignItems="center"
      h="100%"
      px="16px"
      bg="surface"
      borderWidth="1px"
      borderColor="hairline"
      borderRadius="lane"
      opacity={on ? 1 : 0.72}
    >
      <Box minW="0">
        <Heading as="h2" fontFamily="heading" fontSize="19px" fontWeight="700" lineHeight="1.2" truncate>
          {source.name}
        </Heading>
        <LineNote source={source} />
        {source.kind === 'voice' && source.seat.role === 'caller' && <BringUp seat={source.seat.id} name={source.name} />}
      </Box>
      <LaneTrace slot={slot} />
      <LaneLamps source={source} slot={slot} />
      <LaneLevel slot={slot} />
      <Box>
        <Flex justify="space-between" fontSize="12.5px" color="soft" mb="2px">
          <span>Gain</span>
          <Text as="span" color="text">
            {formatDb(trimDb)}
          </Text>
        </Flex>
        <LevelSlider
          label={`Gain of ${source.name}`}
          value={trimDb}
          min={LOWEST_TRIM_DB}
          max={HIGHEST_TRIM_DB}
          onChange={(db) => desk.plan.change((current) => setSource(current, source.id, { trimDb: db }), `trim:${source.id}`)}
        />
        {ducks && <RiddenGain slot={slot} trimDb={trimDb} />}
      </Box>
      <LaneControls source={source} />
    </Grid>
  );
}

function LineNote({ source }: { source: Source }) {
  const call = useDeskState((state) => state.call);
  const voice = useDeskState((state) => state.voice);
  const running = call === 'running';
  const share = useDeskState((state) => state.share);
  const input = useDeskState(({ plugged }) => plugged.inputs[source.id]);
  const seat = useDeskState(({ seats }) => (source.kind === 'voice' ? seats.find(({ id }) => id === source.seat.id) : undefined));
  if (seat && (seat.line === 'link' || seat.line === 'pair') && seat.role !== 'host') return <LaneLine seat={seat} />;
  return (
    <Flex align="baseline" gap="6px" color="soft" fontSize="13px" lineHeight="1.3">
      <Box boxSize="8px" flex="none" borderRadius="full" bg={running ? 'tide' : 'faint'} aria-hidden />
      <Text lineClamp={2}>{seat ? lineInWords(seat, voice, running) : source.kind === 'share' ? (share?.label ?? 'nothing shared') : source.kind === 'input' ? inputInWords(input) : running ? 'pads' : 'pads, waiting'}</Text>
    </Flex>
  );
}

function inputInWords(view: InputView | undefined): string {
  if (!view || view.state === 'none') return 'no device';
  return view.state === 'away' ? `“${view.label}” is away` : view.state === 'refused' ? view.reason : view.label;
}

function lineInWords(seat: DeskSeat, voice: HostVoice, running: boolean): string {
  if (!running) return `${seat.role === 'host' ? 'host' : seat.line}, not in the call`;
  if (seat.role === 'host') {
    if (voice.from === 'microphone') return `host · ${voice.label}`;
    if (voice.from === 'lost') return `host · ${voice.label} is gone`;
    return voice.from === 'practice' ? 'host · simulated voice' : 'host · no microphone';
  }
  const room = seat.practice?.loudspeakers ? 'loudspeakers' : 'headset';
  return `${seat.line} · ${room}${seat.practice?.network === 'weak' ? ' · weak network' : ''}`;
}
