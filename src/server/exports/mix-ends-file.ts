import { join } from 'node:path';
import { SAMPLE_RATE } from '@/core/takes/chunks';
import type { ExportJob, MadeFile } from './export-job';
import { createFileSink } from './file-sink';
import { broadcastFacts } from './file-facts';
import type { SoundSource } from './sound-source';
import { writeWav } from './write-wav';

/** So much of each end is to be heard. */
const END = 10 * SAMPLE_RATE;

/** The first and the last ten seconds of a mix as its file will have them, to hear before it is made; a short mix whole. */
export async function mixEndsFile(job: ExportJob, mix: SoundSource): Promise<MadeFile> {
  const name = `${job.naming.take}_mix-ends.wav`;
  const path = join(job.folder, name);
  const ends = endsOf(mix);
  const sink = await createFileSink(path);
  try {
    await writeWav(sink, ends, 'pcm24', broadcastFacts({ ...job, markers: [], lengthSamples: ends.frames }, ends.sampleRate, `${job.naming.show}: ${job.naming.episodeTitle}, both ends of a mix`));
  } finally {
    await sink.close();
  }
  return { path, name };
}

function endsOf(source: SoundSource): SoundSource {
  const { frames } = source;
  const lastFrom = Math.max(END, frames - END);
  return {
    ...source,
    frames: Math.min(frames, 2 * END),
    async *pieces() {
      let at = 0;
      for await (const piece of source.pieces()) {
        const end = at + piece[0].length;
        for (const [from, to] of [[0, END], [lastFrom, frames]]) {
          const [first, last] = [Math.max(at, from) - at, Math.min(end, to) - at];
          if (last > first) yield piece.map((samples) => samples.slice(first, last));
        }
        at = end;
      }
    },
  };
}
