import { latestBegin, rankInputs, type InputHeard, type InputTrial } from '@/core/measure/find-microphone';

const STEP_MS = 100;
const STEPS = 30;
/** So much longer where an input takes its time to begin. */
const MOST_STEPS = 50;

/** An input that could not be opened, and why. */
export interface InputTroubled {
  key: string;
  reason: string;
}

/** Listens at every input at once, for three seconds from when all of them take something, as each of them is. Best first. */
export async function findMicrophone(inputs: readonly { key: string; id: string }[]): Promise<{ heard: InputHeard[]; troubled: InputTroubled[] }> {
  const context = new AudioContext();
  const opened: { key: string; stream: MediaStream; analyser: AnalyserNode; steps: number[] }[] = [];
  const troubled: InputTroubled[] = [];
  try {
    await context.resume();
    await Promise.all(
      inputs.map(async ({ key, id }) => {
        try {
          const stream = await navigator.mediaDevices.getUserMedia({ audio: { deviceId: { exact: id }, echoCancellation: false, noiseSuppression: false, autoGainControl: false } });
          const analyser = new AnalyserNode(context, { fftSize: 4096 });
          context.createMediaStreamSource(stream).connect(analyser);
          opened.push({ key, stream, analyser, steps: [] });
        } catch (error) {
          troubled.push({ key, reason: (error as DOMException).name === 'NotReadableError' ? 'another program holds it' : 'it could not be opened' });
        }
      }),
    );
    const window = new Float32Array(4096);
    const begun = (): number => latestBegin(opened.map(({ steps }) => steps));
    for (let step = 0; step < Math.min(MOST_STEPS, STEPS + begun()); step++) {
      await new Promise((resolve) => setTimeout(resolve, STEP_MS));
      for (const { analyser, steps } of opened) {
        analyser.getFloatTimeDomainData(window);
        steps.push(window.reduce((sum, x) => sum + x * x, 0) / window.length);
      }
    }
    return { heard: rankInputs(opened.map(({ key, steps }): InputTrial => ({ key, steps }))), troubled };
  } finally {
    for (const { stream } of opened) for (const track of stream.getTracks()) track.stop();
    await context.close();
  }
}
