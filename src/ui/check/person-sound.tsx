'use client';

import { Box, chakra, Flex, Text } from '@chakra-ui/react';
import { voiceOf } from '@/core/hearing/ids';
import type { Seat } from '@/core/hearing/plan';
import { ASKED_ABOUT, type AskedAbout } from '@/core/lines/check-messages';
import { judgeRoom, judgeSpeech, SPEECH_TARGET, type Judged } from '@/core/measure/voice-judgement';
import type { VoiceReading } from '@/core/measure/voice-sound';
import { formatLevel } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { earOf, judgeAnswers, judgeHeadphones, judgeLine } from './person-facts';

const Head = chakra('th');
const NOTHING: VoiceReading = { speechLufs: null, peakDb: null, peakAgainDb: null, noiseDb: null, silentPauses: false, hum: null, clippedRuns: 0 };
const LINE_WORDS: Record<Seat['line'], string> = { link: 'link', pair: 'call program', tab: 'tab', practice: 'practice' };
const COLOURS: Record<Judged['tone'], string> = { good: 'well', attention: 'lamp', bad: 'ember', unknown: 'soft' };
const ASK_WORDS: Record<AskedAbout, string> = { host: 'you', sounds: 'music', self: 'self' };

/** How one person sounds and hears, and what to do about it. */
export function PersonSound({ seat }: { seat: Seat }) {
  const reading = useDeskState((state) => state.voices[voiceOf(seat.id)]) ?? NOTHING;
  const line = useDeskState((state) => state.lines[seat.id]);
  const check = useDeskState((state) => state.lastCheck);
  const answers = useDeskState((state) => state.answers[seat.id]);
  const alone = useDeskState((state) => state.oneChecks[earOf(seat)]);
  const host = useDeskState((state) => state.plan.seats.find(({ role }) => role === 'host')?.name ?? 'you');
  const speech = judgeSpeech(reading);
  const room = judgeRoom(reading);
  return (
    <tr>
      <Head scope="row">
        <Text fontSize="15px" fontWeight="700" lineHeight="1.2">
          {seat.name}
        </Text>
        <Text fontSize="12.5px" color="soft" fontWeight="400">
          {seat.role === 'host' ? 'you' : LINE_WORDS[seat.line]}
        </Text>
      </Head>
      <td>
        <Flex align="center" gap="8px">
          <Text fontFamily="mono" fontSize="15px" fontWeight="700" minW="30px">
            {reading.speechLufs === null ? '–' : formatLevel(reading.speechLufs)}
          </Text>
          <SpeechBand reading={reading} />
        </Flex>
        <Verdict judged={speech} extra={reading.peakDb === null ? '' : `${Math.round(-reading.peakDb)} dB to spare`} />
      </td>
      <td>
        <Text fontFamily="mono" fontSize="14px">
          {reading.noiseDb !== null ? formatLevel(reading.noiseDb) : reading.silentPauses && reading.peakDb !== null ? '−∞' : '–'}
        </Text>
        <Verdict judged={room} />
      </td>
      <td>
        <Verdict judged={judgeHeadphones(seat, check, line, alone)} size="14px" />
      </td>
      <td>
        <Verdict judged={judgeLine(seat, line)} size="14px" />
      </td>
      <td>{seat.role === 'host' ? <Text fontSize="14px" color="soft">here</Text> : <Verdict judged={judgeAnswers(answers, host)} size="14px" />}</td>
      <td>
        <Flex direction={{ base: 'column', xl: 'row' }} gap="5px" justify="end" align={{ base: 'end', xl: 'center' }}>
          {seat.role !== 'host' && <AskButtons seat={seat} />}
          <TestAgain seat={seat} />
        </Flex>
      </td>
    </tr>
  );
}

/** A word with its colour, and what to do. */
function Verdict({ judged: { words, tone, advice }, extra = '', size = '12.5px' }: { judged: Judged; extra?: string; size?: string }) {
  return (
    <Text fontSize={size} color="soft" lineHeight="1.25">
      <Text as="span" color={COLOURS[tone]} fontWeight={tone === 'bad' ? '700' : '500'}>
        {words}
      </Text>
      {advice ? `: ${advice}` : extra && ` · ${extra}`}
    </Text>
  );
}

const [LOWEST_LUFS, HIGHEST_LUFS] = [-45, -8];
const shareOf = (lufs: number): number => Math.max(0, Math.min(1, (lufs - LOWEST_LUFS) / (HIGHEST_LUFS - LOWEST_LUFS)));

/** Where speech is, against where it should be. */
function SpeechBand({ reading: { speechLufs } }: { reading: VoiceReading }) {
  return (
    <Box position="relative" w="78px" h="10px" bg="ground" borderRadius="3px" overflow="hidden" aria-hidden>
      <Box position="absolute" top="0" bottom="0" left={`${100 * shareOf(SPEECH_TARGET.from)}%`} right={`${100 * (1 - shareOf(SPEECH_TARGET.to))}%`} bg="well" opacity="0.32" />
      {speechLufs !== null && <Box position="absolute" top="0" bottom="0" w="3px" bg="lampCore" left={`calc(${100 * shareOf(speechLufs)}% - 1.5px)`} />}
    </Box>
  );
}

/** Whether what one person hears comes back, measured again while the call goes on. */
function TestAgain({ seat }: { seat: Seat }) {
  const desk = useDesk();
  const line = useDeskState((state) => state.lines[seat.id]?.state);
  const ready = useDeskState(({ call, check, recording }) => call === 'running' && check === null && recording === null);
  const practice = useDeskState((state) => state.seats.some(({ id, practice: made }) => id === seat.id && made !== null));
  const there = seat.role === 'host' || practice || line === 'live' || line === 'waiting' || line === 'silent';
  return (
    <ControlButton h="30px" px="9px" disabled={!ready || !there} aria-label={`Test the headphones of ${seat.name}`} title="A soft hiss for this person alone, while the call goes on" onClick={() => void desk.check.startOne(earOf(seat))}>
      Test
    </ControlButton>
  );
}

/** Asks on the guest's page; what was answered by mouth is ticked here. */
function AskButtons({ seat }: { seat: Seat }) {
  const desk = useDesk();
  const line = useDeskState((state) => state.lines[seat.id]?.state);
  const says = useDeskState((state) => state.answers[seat.id]?.says) ?? {};
  if (seat.line === 'link') {
    const there = line === 'live' || line === 'waiting';
    return (
      <ControlButton h="30px" px="10px" disabled={!there} aria-label={`Ask ${seat.name} what they hear`} onClick={() => desk.asking.ask(seat.id)}>
        Ask
      </ControlButton>
    );
  }
  if (seat.line !== 'pair') return null;
  return (
    <Flex gap="4px" wrap="wrap" justify="end" role="group" aria-label={`What ${seat.name} says they hear`}>
      {ASKED_ABOUT.map((about) => (
        <ControlButton
          key={about}
          h="28px"
          px="7px"
          fontSize="12.5px"
          tone={says[about] === undefined ? 'plain' : says[about] === (about !== 'self') ? 'tide' : 'ember'}
          aria-label={`${seat.name} hears ${about === 'host' ? 'you' : about === 'sounds' ? 'the music' : 'their own voice'}: ${says[about] === undefined ? 'not asked' : says[about] ? 'yes' : 'no'}`}
          onClick={() => desk.asking.note(seat.id, about, !(says[about] ?? false))}
        >
          {ASK_WORDS[about]}
          {says[about] === undefined ? '?' : says[about] ? ' ✓' : ' ✗'}
        </ControlButton>
      ))}
    </Flex>
  );
}
