import type { InputChannels } from '@/core/devices/device';
import type { SoundRing } from '@/core/dsp/sound-ring';
import type { CompiledPlan } from '@/core/hearing/compile';
import type { ListenerId, SourceId } from '@/core/hearing/ids';
import type { AudioDesk } from '../desk/audio-desk';
import type { LineAudio } from '../lines/line-audio';
import { streamSource } from '../stream-source';
import { PortTable } from './port-table';

/** Lets go of a port; may be called twice. */
export type Unplug = () => void;

/**
 * The one owner of the audio thread's ports. Whoever brings sound or takes it asks here, names the source or listener, and
 * never learns a number; after every change of plan the thread is told anew which port is whose.
 */
export class Patchbay {
  readonly #audio: AudioDesk;
  readonly #compiled: () => CompiledPlan;
  readonly #ports: PortTable;

  constructor(audio: AudioDesk, compiled: () => CompiledPlan) {
    this.#audio = audio;
    this.#compiled = compiled;
    this.#ports = new PortTable(audio.ports);
  }

  /** Tells the audio thread which port is whose in the plan in force. */
  replan(): void {
    this.#audio.tell({ type: 'places', ...this.#ports.places(this.#compiled()) });
  }

  /** A source that comes by a node of the desk's own context. */
  plugNode(source: SourceId, from: AudioNode): Unplug {
    const port = this.#ports.take('inputs', source);
    from.connect(this.#audio.node, 0, port);
    return this.#letGo(() => {
      from.disconnect();
      this.#ports.free('inputs', port);
    });
  }

  /** A source that comes as a stream of the browser's. */
  plugStream(source: SourceId, stream: MediaStream): Unplug {
    const from = streamSource(this.#audio.context, stream);
    const unplug = this.plugNode(source, from.node);
    return () => {
      unplug();
      from.stop();
    };
  }

  /** A source that comes by a ring, from a clock of its own. */
  plugRing(source: SourceId, ring: SoundRing, channels: InputChannels): Unplug {
    const port = this.#ports.take('devices', source);
    this.#audio.tell({ type: 'device', port, ring: ring.memory, channels });
    return this.#letGo(() => {
      this.#audio.tell({ type: 'device', port, ring: null, channels });
      this.#ports.free('devices', port);
    });
  }

  /** A listener's mix into a ring, for an output with a clock of its own. */
  carry(listener: ListenerId, ring: SoundRing): Unplug {
    const port = this.#ports.take('outlets', listener);
    this.#audio.tell({ type: 'outlet', port, ring: ring.memory });
    return this.#letGo(() => {
      this.#audio.tell({ type: 'outlet', port, ring: null });
      this.#ports.free('outlets', port);
    });
  }

  /** A listener's mix into a node of the desk's own context. */
  tap(listener: ListenerId, to: AudioNode): Unplug {
    const port = this.#ports.take('outputs', listener);
    this.#audio.node.connect(to, port);
    return this.#letGo(() => {
      this.#audio.node.disconnect(to, port);
      this.#ports.free('outputs', port);
    });
  }

  /** Both ends of a link: the listener's mix as a track to be sent, and whatever stream comes in. */
  openLine(source: SourceId, listener: ListenerId): LineAudio {
    const { context } = this.#audio;
    const out = new MediaStreamAudioDestinationNode(context, { channelCount: 2 });
    const untap = this.tap(listener, out);
    // Without an element that plays it, silently, a remote stream gives Web Audio nothing in Chromium.
    const element = new Audio();
    element.muted = true;
    let unplug: Unplug | null = null;
    const stop = (): void => {
      unplug?.();
      unplug = null;
      element.srcObject = null;
    };
    return {
      track: out.stream.getAudioTracks()[0],
      receive: (stream) => {
        stop();
        element.srcObject = stream;
        void element.play().catch(() => undefined);
        unplug = this.plugStream(source, stream);
      },
      close: () => {
        stop();
        untap();
        for (const track of out.stream.getTracks()) track.stop();
      },
    };
  }

  #letGo(undo: () => void): Unplug {
    this.replan();
    let done = false;
    return () => {
      if (done) return;
      done = true;
      undo();
      this.replan();
    };
  }
}
