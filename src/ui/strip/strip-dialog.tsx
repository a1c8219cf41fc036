'use client';

import { Box, Flex, Grid, Text } from '@chakra-ui/react';
import { useEffect } from 'react';
import { setStrip } from '@/core/hearing/edit';
import type { Source } from '@/core/hearing/plan';
import { stripOf } from '@/core/hearing/processing';
import { declaredDelayMs, declaredGainDb } from '@/core/strip/declared';
import { CLOSED_STRIP, INSERTS, isClosed, withInsert, type InsertName, type StripSettings } from '@/core/strip/settings';
import { formatDb } from '../format';
import { ControlButton } from '../shell/control-button';
import { Sheet } from '../shell/sheet';
import { useDesk, useDeskState } from '../shell/desk-context';
import { LevelCurve, ToneCurve } from './curves';
import { HearDifference } from './hear-difference';
import { InsertControls } from './insert-controls';
import { InsertRow } from './insert-row';
import { SetForMe } from './set-for-me';

/** Everything that is done to one source before the mixes get it. */
export function StripDialog({ source, onClose }: { source: Source; onClose(): void }) {
  const desk = useDesk();
  const strip = useDeskState(({ plan }) => stripOf(plan, source.id));
  const listening = useDeskState((state) => (state.stripListening?.source === source.id ? state.stripListening : null));
  const noise = useNoise(source);
  // What suppresses noise knows voices only.
  const inserts = source.kind === 'voice' ? INSERTS : INSERTS.filter((insert) => insert !== 'noise');
  const slot = desk.plan.compiled().sourceIds.indexOf(source.id);
  useEffect(() => {
    void desk.strips.noise.prepare();
    return () => desk.strips.setter.stop();
  }, [desk]);
  const change = <Name extends InsertName>(insert: Name, settings: Partial<StripSettings[Name]>, control = '') =>
    desk.plan.change((plan) => setStrip(plan, source.id, (now) => withInsert(now, insert, settings)), control && `strip:${source.id}:${insert}:${control}`);
  // What was changed since is no longer as it was reasoned.
  const reason = (insert: InsertName) => listening?.reasons.find((one) => one.insert === insert && isSame(one.set, strip[insert]))?.sentence;
  return (
    <Sheet
      title={`${source.name}: what is done to ${source.kind === 'voice' ? 'the voice' : 'the sound'}`}
      under={
        <Text color="soft" fontSize="14px">
          On the way into every mix. The track stays as it comes in. {inAll(noise.failed ? withInsert(strip, 'noise', { on: false }) : strip)}
        </Text>
      }
      size="xl"
      scrollBehavior="inside"
      content={{ maxW: '1000px' }}
      onClose={onClose}
    >
      <Grid templateColumns={{ base: '1fr', md: 'minmax(0, 1fr) 264px' }} gap="20px">
        <Box>
          {inserts.map((insert) => (
            <InsertRow
              key={insert}
              insert={insert}
              on={strip[insert].on}
              slot={slot}
              note={insert === 'noise' ? noise.note : reason(insert)}
              disabled={insert === 'noise' && !strip.noise.on && noise.full}
              onSwitch={(on) => change(insert, { on } as Partial<StripSettings[typeof insert]>)}
            >
              {insert === 'noise' ? null : <InsertControls insert={insert} strip={strip} onChange={change} />}
            </InsertRow>
          ))}
        </Box>
        <Flex direction="column" gap="14px">
          {source.kind === 'voice' && <SetForMe source={source} />}
          <HearDifference source={source} closed={isClosed(strip)} />
          <ToneCurve strip={strip} />
          <LevelCurve strip={strip} />
          <ControlButton disabled={isClosed(strip)} onClick={() => desk.plan.change((plan) => setStrip(plan, source.id, allOff))}>
            Everything off
          </ControlButton>
        </Flex>
      </Grid>
    </Sheet>
  );
}

const isSame = (one: object, other: object): boolean => JSON.stringify(one) === JSON.stringify(other);

/** Off, and the numbers kept for when it is wanted again. */
const allOff = (strip: StripSettings): StripSettings => INSERTS.reduce((done, insert) => withInsert(done, insert, { on: false } as Partial<StripSettings[typeof insert]>), strip);

function inAll(strip: StripSettings): string {
  const [ms, db] = [declaredDelayMs(strip), declaredGainDb(strip)];
  const said = [ms > 0 && `It comes ${Math.round(ms)} ms later`, db >= 0.5 && `${ms > 0 ? 'and' : 'It comes'} up to ${formatDb(db).replace('+', '')} louder, which the audit counts on`].filter((one) => one !== false);
  return said.length === 0 ? '' : `${said.join(' ')}.`;
}

/** How many voices noise can be suppressed for here, and whether one more may have it. */
function useNoise(source: Source): { note?: string; full: boolean; failed: boolean } {
  const { state, mostVoices } = useDeskState(({ noise }) => noise);
  const others = useDeskState(({ plan }) => Object.entries(plan.processing).filter(([id, strip]) => id !== source.id && (strip ?? CLOSED_STRIP).noise.on).length);
  if (state === 'failed') return { note: 'It could not be loaded; the voice passes as it is.', full: false, failed: true };
  if (mostVoices === null) return { full: false, failed: false };
  const full = others >= mostVoices;
  const can = mostVoices === 0 ? 'This computer is too slow for it.' : `This computer carries it for ${mostVoices === 1 ? 'one voice' : `${mostVoices} voices`} at once.`;
  return { note: full || others > 0 ? `${can} ${others === 0 ? '' : `${others} ${others === 1 ? 'other has' : 'others have'} it.`}` : undefined, full, failed: false };
}
