'use client';

import { Checkbox, Flex, Text } from '@chakra-ui/react';
import { Pause, Play, Redo2, Repeat, Undo2, ZoomIn, ZoomOut } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { dbToGain } from '@/core/dsp/decibels';
import type { LibrarySound } from '@/core/sounds/library-sound';
import { fitEdit, nearestZeroCrossing, type SoundEdit } from '@/core/sounds/sound-edit';
import { sendJson } from '@/live/api';
import { SoundPreview } from '@/live/sounds/sound-preview';
import { ControlButton } from '../shell/control-button';
import { Sheet } from '../shell/sheet';
import { EditPoints, type Point, withPoint } from './edit-points';
import { EditWave, type View } from './edit-wave';
import { SoundFacts } from './sound-facts';

/** How far a point moves to find a zero crossing: 10 ms. */
const SNAP_REACH = 480;
const CLOSEST_SAMPLES = 480;

interface SoundEditorProps {
  sound: LibrarySound;
  onChange(sound: LibrarySound): void;
  onClose(): void;
}

/** What of a sound is played, how it begins, ends and loops. The file itself is never altered. */
export function SoundEditor({ sound, onChange, onClose }: SoundEditorProps) {
  const [preview] = useState(() => new SoundPreview());
  const [channels, setChannels] = useState<Float32Array[] | null>(null);
  const [past, setPast] = useState<SoundEdit[]>([]);
  const [future, setFuture] = useState<SoundEdit[]>([]);
  const [edit, setEdit] = useState(sound.edit);
  const [view, setView] = useState<View>({ from: 0, to: sound.lengthSamples });
  const [snaps, setSnaps] = useState(true);
  const [playing, setPlaying] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const saving = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);

  useEffect(() => {
    preview.load(`/api/sounds/${sound.id}/audio`).then(setChannels, (error: Error) => setTrouble(error.message));
    return () => preview.close();
  }, [preview, sound.id]);

  const store = (next: SoundEdit) => {
    setEdit(next);
    clearTimeout(saving.current);
    saving.current = setTimeout(() => {
      sendJson<LibrarySound>('PUT', `/api/sounds/${sound.id}`, { edit: next }).then(onChange, (error: Error) => setTrouble(`The edit was not kept. ${error.message}`));
    }, 300);
  };
  const change = (next: SoundEdit) => {
    const fit = fitEdit(next, sound.lengthSamples);
    if (JSON.stringify(fit) === JSON.stringify(edit)) return;
    setPast([...past.slice(-100), edit]);
    setFuture([]);
    store(fit);
  };
  const move = (point: Point, at: number) => {
    const cuts = point !== 'fadeIn' && point !== 'fadeOut';
    const place = Math.round(snaps && cuts && channels ? nearestZeroCrossing(channels, Math.round(at), SNAP_REACH) : at);
    change(withPoint(edit, point, place));
  };
  const undo = () => {
    const before = past.at(-1);
    if (!before) return;
    setPast(past.slice(0, -1));
    setFuture([edit, ...future]);
    store(before);
  };
  const redo = () => {
    if (future.length === 0) return;
    setPast([...past, edit]);
    setFuture(future.slice(1));
    store(future[0]);
  };
  const zoom = (factor: number) => {
    const middle = (view.from + view.to) / 2;
    const span = Math.max(CLOSEST_SAMPLES, Math.min(sound.lengthSamples, (view.to - view.from) * factor));
    const from = Math.max(0, Math.min(sound.lengthSamples - span, middle - span / 2));
    setView({ from: Math.round(from), to: Math.round(from + span) });
  };
  const play = async (loops: boolean) => {
    if (!channels) return;
    if (preview.position() >= 0) {
      preview.stop();
      return setPlaying(false);
    }
    await preview.play(channels, edit, dbToGain(sound.gainDb), loops, edit.inSample);
    setPlaying(true);
  };
  return (
    <Sheet title={sound.name} size="cover" content={{ maxW: '1180px', h: 'auto', minH: '0' }} closeName="Close the editor" onClose={onClose}>
      <Flex direction="column" gap="12px">
        <Flex gap="8px" align="center" wrap="wrap">
          <ControlButton tone="lamp" disabled={!channels} onClick={() => void play(false)}>
            {playing ? <Pause size={15} /> : <Play size={15} />} {playing ? 'Stop' : 'Play'}
          </ControlButton>
          <ControlButton disabled={!channels || playing} onClick={() => void play(true)}>
            <Repeat size={15} /> Play as a loop
          </ControlButton>
          <ControlButton aria-label="Undo the last change of this sound" disabled={past.length === 0} onClick={undo}>
            <Undo2 size={15} /> Undo
          </ControlButton>
          <ControlButton aria-label="Redo" disabled={future.length === 0} onClick={redo}>
            <Redo2 size={15} /> Redo
          </ControlButton>
          <ControlButton aria-label="Zoom in" onClick={() => zoom(0.5)}>
            <ZoomIn size={15} />
          </ControlButton>
          <ControlButton aria-label="Zoom out" onClick={() => zoom(2)}>
            <ZoomOut size={15} />
          </ControlButton>
          <ControlButton onClick={() => setView({ from: 0, to: sound.lengthSamples })}>Whole sound</ControlButton>
          <ControlButton onClick={() => setView({ from: edit.inSample, to: edit.outSample })}>What is played</ControlButton>
          <Checkbox.Root size="sm" checked={snaps} onCheckedChange={({ checked }) => setSnaps(checked === true)} ml="auto">
            <Checkbox.HiddenInput />
            <Checkbox.Control />
            <Checkbox.Label fontSize="14px">Points snap to zero crossings</Checkbox.Label>
          </Checkbox.Root>
        </Flex>
        <EditWave channels={channels} edit={edit} view={view} onView={setView} preview={preview} onMove={move} onStopped={() => setPlaying(false)} />
        <EditPoints edit={edit} lengthSamples={sound.lengthSamples} onMove={move} onChange={change} />
        <SoundFacts sound={sound} onChange={onChange} onTrouble={setTrouble} />
        <Text role="alert" color="ember" fontSize="14px">
          {trouble}
        </Text>
      </Flex>
    </Sheet>
  );
}
