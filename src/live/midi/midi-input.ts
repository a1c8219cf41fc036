import type { Input, MessageEvent as WebMidiMessage } from 'webmidi';
import type { MidiMessage } from '@/core/session/midi-bindings';

export interface MidiListening {
  state: 'on' | 'missing' | 'refused';
  close(): void;
}

interface ListenOptions {
  onMessage(message: MidiMessage): void;
  /** The devices that are heard, whenever one comes or goes. */
  onInputs(names: string[]): void;
}

/** Listens to every MIDI device of this computer. Without any, or where the browser has none, says so. */
export async function listenToMidi({ onMessage, onInputs }: ListenOptions): Promise<MidiListening> {
  if (!('requestMIDIAccess' in navigator)) return { state: 'missing', close: () => undefined };
  // Only who asks for it loads it.
  const { WebMidi } = await import('webmidi');
  try {
    await WebMidi.enable();
  } catch {
    return { state: 'refused', close: () => undefined };
  }
  const hear = (event: WebMidiMessage) => {
    const [status, number, value = 0] = event.message.data;
    const message = messageOf(status, number, value);
    if (message) onMessage(message);
  };
  const listen = () => {
    for (const input of WebMidi.inputs as Input[]) {
      input.removeListener('midimessage');
      input.addListener('midimessage', hear);
    }
    onInputs(WebMidi.inputs.map(({ name }) => name));
  };
  WebMidi.addListener('portschanged', listen);
  listen();
  return { state: 'on', close: () => void WebMidi.disable() };
}

/** A channel message of the MIDI 1.0 specification as what the desk knows; null for all others. */
export function messageOf(status: number, number: number, value: number): MidiMessage | null {
  const channel = (status & 0x0f) + 1;
  switch (status & 0xf0) {
    case 0x90:
      return { message: 'note', channel, number, value };
    case 0x80:
      return { message: 'note', channel, number, value: 0 };
    case 0xb0:
      return { message: 'controller', channel, number, value };
    default:
      return null;
  }
}
