import { Flex } from '@chakra-ui/react';
import { Play, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { ControlButton } from '../shell/control-button';

const SECONDS = 10;
type End = 'first' | 'last';

/** The first and the last ten seconds of a finished file, to hear before it goes out. */
export function ListenEnds({ url, name }: { url: string; name: string }) {
  const element = useRef<HTMLAudioElement | null>(null);
  const [playing, setPlaying] = useState<End | null>(null);
  const stop = () => {
    element.current?.pause();
    element.current = null;
    setPlaying(null);
  };
  useEffect(() => () => element.current?.pause(), []);
  const play = (end: End) => {
    stop();
    if (playing === end) return;
    const audio = new Audio(url);
    element.current = audio;
    setPlaying(end);
    // Where the last seconds begin is known once the file's length is.
    audio.onloadedmetadata = () => (audio.currentTime = end === 'first' ? 0 : Math.max(0, audio.duration - SECONDS));
    audio.ontimeupdate = () => end === 'first' && audio.currentTime >= SECONDS && stop();
    audio.onended = audio.onerror = stop;
    audio.play().catch(stop);
  };
  const button = (end: End) => (
    <ControlButton h="26px" px="8px" fontSize="12.5px" aria-pressed={playing === end} aria-label={`Play the ${end} ${SECONDS} seconds of ${name}`} title={`the ${end} ${SECONDS} seconds`} onClick={() => play(end)}>
      {playing === end ? <Square size={12} /> : <Play size={12} />} {end}
    </ControlButton>
  );
  return (
    <Flex gap="4px">
      {button('first')}
      {button('last')}
    </Flex>
  );
}
