const WITHIN_MS = 8000;

export type TriedCall = { through: true; ms: number } | { through: false; why: string };

/**
 * Makes a call of this page with itself, by any way or by the relay alone, and closes it again: whether this browser's network and
 * the helpers it was given let one through.
 */
export async function tryCall(iceServers: RTCIceServer[], policy: RTCIceTransportPolicy): Promise<TriedCall> {
  if (policy === 'relay' && !iceServers.some(({ urls }) => [urls].flat().some((url) => url.startsWith('turn')))) return { through: false, why: 'there is no relay to try' };
  const began = performance.now();
  const ends = [0, 1].map(() => new RTCPeerConnection({ iceServers, iceTransportPolicy: policy }));
  const [calling, called] = ends;
  const problems: string[] = [];
  for (const [k, end] of ends.entries()) {
    end.onicecandidate = ({ candidate }) => candidate && void ends[1 - k].addIceCandidate(candidate).catch(() => undefined);
    end.addEventListener('icecandidateerror', ({ errorCode, errorText }) => problems.push(`${errorCode} ${errorText}`.trim()));
  }
  try {
    const open = new Promise<boolean>((resolve) => (calling.createDataChannel('try').onopen = () => resolve(true)));
    await calling.setLocalDescription();
    await called.setRemoteDescription(calling.localDescription!);
    await called.setLocalDescription();
    await calling.setRemoteDescription(called.localDescription!);
    const through = await Promise.race([open, new Promise<false>((resolve) => setTimeout(() => resolve(false), WITHIN_MS))]);
    return through ? { through, ms: Math.round(performance.now() - began) } : { through, why: problems[0] ?? 'nothing came through in eight seconds' };
  } finally {
    for (const end of ends) end.close();
  }
}
