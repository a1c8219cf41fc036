'use client';

import type { ButtonProps } from '@chakra-ui/react';
import type { Source } from '@/core/hearing/plan';
import { stripOf } from '@/core/hearing/processing';
import { INSERTS } from '@/core/strip/settings';
import { stripInWords } from '@/core/strip/words';
import { ControlButton } from '../shell/control-button';
import { useDeskState } from '../shell/desk-context';
import { useStripOpener } from './strip-opener';

/** Opens what is done to a voice, and says how much of it there is. */
export function StripButton({ source, ...button }: { source: Source } & ButtonProps) {
  const open = useStripOpener();
  const strip = useDeskState(({ plan }) => stripOf(plan, source.id));
  const on = INSERTS.filter((name) => strip[name].on).length;
  return (
    <ControlButton {...button} tone={on > 0 ? 'lit' : 'plain'} aria-label={`What is done to ${source.name}: ${stripInWords(strip)}`} title={stripInWords(strip)} onClick={() => open(source.id)}>
      {on > 0 ? `Strip: ${on} on` : 'Strip'}
    </ControlButton>
  );
}
