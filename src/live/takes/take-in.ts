import { BlobReader, configure, TextWriter, ZipReader, type Entry, type FileEntry } from '@zip.js/zip.js';
import { BYTES_PER_SAMPLE } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { MANIFEST, packageSchema, takenInSchema, type TakePackage } from '@/core/takes/take-package';
import { sendJson } from '../api';
import { pause } from '../pause';
import { createUploader, RefusedError, type Uploader } from '../recorder/uploader';

/** A package that cannot be taken in; the message is for the host. */
export class PackageError extends Error {}

/** Sound that may wait to be sent, bytes. */
const MOST_WAITING = 32 * 2 ** 20;
const LOOK_MS = 20;
/** Parts of the log that go together. */
const [PLANS_AT_ONCE, GAPS_AT_ONCE] = [25, 500];

interface Begun {
  take: string;
  number: number;
  tracks: string[];
}

const isFile = (entry: Entry): entry is FileEntry => !entry.directory;

/**
 * Takes in a take that another installation has packed up: all tracks with their papers as WAV in one ZIP. It becomes this
 * episode's next take, with its own tracks, gaps, plans, markers and consents. One that turns out to be damaged is left in the bin
 * with what was whole.
 * @param said how much of it has gone through, 0 to 1
 * @throws {PackageError | ServerError}
 */
export async function takeIn(episode: string, zip: Blob, said: (share: number) => void): Promise<Begun> {
  // The content policy lets no worker begin from a text, and files are stored as they are.
  configure({ useWebWorkers: false });
  const reader = new ZipReader(new BlobReader(zip));
  try {
    const entries = new Map((await reader.getEntries().catch(() => refuse('This is no ZIP, or not a whole one.'))).filter(isFile).map((entry) => [entry.filename, entry]));
    const given = await manifestOf(entries);
    const files = given.files.map((file) => ({ file, entry: entries.get(file.file) ?? refuse(`“${file.file}” is not in the ZIP.`) }));
    const begun = await sendJson<Begun>('POST', `/api/episodes/${episode}/takes/taken-in`, takenInSchema.parse(given));
    await bring(begun, given, files, said).catch(async (error: Error) => {
      await leaveInBin(begun, error.message).catch(() => undefined);
      throw error;
    });
    return begun;
  } finally {
    await reader.close();
  }
}

async function bring(begun: Begun, given: TakePackage, files: { file: TakePackage['files'][number]; entry: FileEntry }[], said: (share: number) => void): Promise<void> {
  let refused = '';
  const uploader = createUploader({ onStored: () => undefined, onWaiting: () => undefined, onRefused: (message) => (refused = message) });
  const all = files.reduce((sum, { file }) => sum + file.bytes, 0);
  let done = 0;
  try {
    for (const [k, { file, entry }] of files.entries()) {
      await sendTrack(uploader, begun, k, entry, given, (bytes) => said((done + bytes) / all));
      done += file.bytes;
    }
  } catch (error) {
    // What is on its way arrives before the take is put away.
    await uploader.idle().catch(() => undefined);
    throw error;
  }
  await uploader.idle().catch((error: Error) => refuse(error instanceof RefusedError ? refused || error.message : error.message));
  await sendLog(begun, given);
  await sendJson('POST', `/api/takes/${begun.take}/seal`, { lengthSamples: given.lengthSamples, pauses: given.pauses });
}

/** A take that is not whole does not stand among the others. */
async function leaveInBin({ take }: Begun, why: string): Promise<void> {
  await sendJson('PATCH', `/api/takes/${take}`, { binned: true, note: `Not taken in whole: ${why}` });
  await sendJson('POST', `/api/takes/${take}/seal`, { lengthSamples: null });
}

function refuse(why: string): never {
  throw new PackageError(why);
}

async function manifestOf(entries: ReadonlyMap<string, FileEntry>): Promise<TakePackage> {
  const entry = entries.get(MANIFEST) ?? refuse('There is no manifest in it. Choose the ZIP of all tracks that a take was downloaded as.');
  let value: unknown;
  try {
    value = JSON.parse(await entry.getData(new TextWriter()));
  } catch {
    refuse('Its manifest cannot be read.');
  }
  const given = packageSchema.safeParse(value);
  if (given.success) return given.data;
  const { path, message } = given.error.issues[0];
  const place = path.join('.');
  if (place === 'form') refuse('It was packed by a version that did not write down all that is needed. Download it again with this version.');
  if (place === 'sampleRate') refuse('It was packed at another rate than 48 kHz. Download all tracks as they were recorded.');
  return refuse(`Its manifest is not valid. ${place}: ${message}`);
}

/** Sends a track's samples in the chunks a desk would have sent. */
async function sendTrack(uploader: Uploader, { take, tracks }: Begun, k: number, entry: FileEntry, { files, lengthSamples }: TakePackage, said: (bytes: number) => void): Promise<void> {
  const { file, format, channels, bytes: fileBytes } = files[k];
  const frameBytes = BYTES_PER_SAMPLE[format] * channels;
  const dataBytes = lengthSamples * frameBytes;
  const headerBytes = fileBytes - dataBytes - (dataBytes % 2);
  if (entry.uncompressedSize !== fileBytes || headerBytes < 44) refuse(`“${file}” is not as long as the manifest says. Choose the ZIP of tracks as WAV.`);
  const chunk = new Uint8Array(CHUNK_FRAMES * frameBytes);
  let [passed, filled, index] = [0, 0, 0];
  const send = () => {
    uploader.send({ take, track: tracks[k], index: index++, bytes: chunk.slice(0, filled) });
    filled = 0;
  };
  const sink = new WritableStream<Uint8Array>({
    async write(piece) {
      for (let at = Math.max(0, headerBytes - passed); at < piece.length && index * chunk.length + filled < dataBytes; ) {
        const count = Math.min(piece.length - at, chunk.length - filled, dataBytes - index * chunk.length - filled);
        chunk.set(piece.subarray(at, at + count), filled);
        at += count;
        filled += count;
        if (filled === chunk.length) send();
      }
      passed += piece.length;
      said(passed);
      while (uploader.waitingBytes() > MOST_WAITING) await pause(LOOK_MS);
    },
  });
  await entry.getData(sink, { checkSignature: true }).catch((error: Error) => refuse(`“${file}” is damaged in this ZIP (${error.message}). Download it again.`));
  if (filled > 0) send();
}

/** What was in force when, and where sound was lost. */
async function sendLog({ take, tracks }: Begun, { files, plan, hands, planChanges, gaps }: TakePackage): Promise<void> {
  const here = new Map(files.map(({ track }, k) => [track, tracks[k]]));
  const plans = [{ atSample: 0, plan, hands }, ...planChanges].map((one, place) => ({ place, ...one }));
  const kept = gaps.flatMap((gap) => (here.has(gap.track) ? [{ ...gap, track: here.get(gap.track)! }] : []));
  for (let at = 0; at < plans.length; at += PLANS_AT_ONCE) await sendJson('POST', `/api/takes/${take}/log`, { plans: plans.slice(at, at + PLANS_AT_ONCE) });
  for (let at = 0; at < kept.length; at += GAPS_AT_ONCE) await sendJson('POST', `/api/takes/${take}/log`, { gaps: kept.slice(at, at + GAPS_AT_ONCE) });
}
