'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import { observeCoupling } from '@/core/hearing/observation';
import { returnOf } from '@/core/hearing/ids';
import { sourceOfLine, listenerOfLine } from '@/core/hearing/seats';
import { outletOfLine } from '@/core/hearing/wiring';
import type { LineProof } from '@/core/measure/line-proof';
import type { DeskSeat } from '@/core/session/desk-data';
import { proveLine } from '@/live/devices/prove-line';
import { formatDb } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk } from '../shell/desk-context';
import { PeakMeter } from './peak-meter';

type Step = { at: 'sending' } | { at: 'proven'; proof: LineProof } | { at: 'failed'; words: string };

/** Sends a short sound into a line and says what it showed. */
export function LineProofStep({ seat, onDone }: { seat: DeskSeat; onDone(): void }) {
  const desk = useDesk();
  const [step, setStep] = useState<Step>({ at: 'sending' });
  const [run, setRun] = useState(0);
  const peak = useRef(0);
  useEffect(() => {
    const stop = new AbortController();
    const source = sourceOfLine(seat);
    const { inputs, outlets } = desk.devices.choices();
    const input = inputs.find((one) => one.source === source);
    const outlet = outlets.find(({ id }) => id === outletOfLine(seat.id));
    const prove = async (): Promise<LineProof> => {
      if (!input || !outlet) throw new Error('Choose both devices first.');
      return proveLine(desk.devices, input, outlet, (progress) => (peak.current = Math.max(peak.current, progress.peak)), stop.signal);
    };
    prove().then(
      (proof) => {
        if (stop.signal.aborted) return;
        desk.devices.cameBack(listenerOfLine(seat), source, proof.kind === 'loop' ? proof : null);
        setStep({ at: 'proven', proof });
      },
      (error: Error) => !stop.signal.aborted && setStep({ at: 'failed', words: error.message }),
    );
    return () => stop.abort();
  }, [desk, seat, run]);
  const again = (): void => {
    setStep({ at: 'sending' });
    setRun(run + 1);
  };
  const [title, words] = wordsOf(step, seat.name);
  const good = step.at === 'proven' && (step.proof.kind === 'heard' || step.proof.kind === 'comes-back');
  const noteEcho = (): void => {
    if (step.at !== 'proven' || step.proof.kind !== 'comes-back') return;
    const { gainDb, delayMs } = step.proof;
    desk.plan.observe([observeCoupling({ kind: 'far-system', from: returnOf(seat.id), to: sourceOfLine(seat), gainDb, delayMs }, 'the proof of the line', new Date())]);
    onDone();
  };
  return (
    <Box>
      <Box role="status" aria-label={`The line of ${seat.name}`}>
        <Flex align="center" gap="8px">
          <Box boxSize="10px" flex="none" borderRadius={good ? 'full' : '2px'} bg={step.at === 'sending' ? 'lamp' : good ? 'well' : 'ember'} aria-hidden />
          <Text fontFamily="heading" fontWeight="700" fontSize="16px">
            {title}
          </Text>
        </Flex>
        <Text fontSize="14px" color="soft" mt="4px">
          {words}
        </Text>
      </Box>
      {step.at === 'sending' && (
        <PeakMeter
          label={`What comes from ${seat.name}`}
          idle="listening"
          peak={() => {
            const now = peak.current;
            peak.current = 0;
            return now;
          }}
        />
      )}
      <Flex gap="8px" mt="12px" wrap="wrap">
        <ControlButton tone={good ? 'lamp' : 'plain'} onClick={onDone}>
          {good ? 'Done' : 'Later'}
        </ControlButton>
        {step.at === 'proven' && step.proof.kind === 'comes-back' && <ControlButton onClick={noteEcho}>Count the echo in the audit</ControlButton>}
        {step.at !== 'sending' && <ControlButton onClick={again}>Send the sound again</ControlButton>}
      </Flex>
    </Box>
  );
}

function wordsOf(step: Step, name: string): [title: string, words: string] {
  if (step.at === 'sending') return ['Sending a short sound', `${name} should hear rising tones now. Ask for a word back.`];
  if (step.at === 'failed') return ['Not connected', step.words];
  const { proof } = step;
  switch (proof.kind) {
    case 'heard':
      return ['Connected both ways', `The sound went out, and ${name} came in at ${formatDb(proof.peakDb)} peak. Nothing of what was sent came back.`];
    case 'comes-back':
      return ['Connected, with an echo', `What was sent to ${name} comes back at ${formatDb(proof.gainDb)} after ${Math.round(proof.delayMs)} ms: the far end listens on loudspeakers, or its program sends everything back.`];
    case 'loop':
      return ['The two ends are one cable', `What was sent came straight back after ${Math.round(proof.delayMs)} ms. The line is kept shut. Choose another input or another output for it.`];
    case 'nothing':
      return ['Nothing comes back', 'The sound went out and nothing came in. Usual reasons: the other program uses another loudspeaker or is muted there, its microphone is another one, or nobody spoke.'];
  }
}
