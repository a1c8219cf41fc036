/** How the sender of this description wants to be sent Opus (RFC 7587, section 6.1). */
export interface OpusWishes {
  stereo: boolean;
  /** bit/s */
  maxAverageBitrate: number;
}

/**
 * A session description that asks for full-band Opus without discontinuous transmission and with
 * in-band error correction. A description without Opus is returned as it is.
 */
export function askForOpus(sdp: string, wishes: OpusWishes): string {
  const payload = /^a=rtpmap:(\d+) opus\/48000\/2\r?$/im.exec(sdp)?.[1];
  if (payload === undefined) return sdp;
  const stereo = wishes.stereo ? 1 : 0;
  const asked: Record<string, number> = {
    maxplaybackrate: 48000,
    stereo,
    'sprop-stereo': 1,
    maxaveragebitrate: Math.round(wishes.maxAverageBitrate),
    usedtx: 0,
    useinbandfec: 1,
  };
  const line = new RegExp(`^a=fmtp:${payload} (.*?)(\\r?)$`, 'm');
  const existing = line.exec(sdp);
  const end = existing?.[2] ?? (sdp.includes('\r\n') ? '\r' : '');
  const kept = (existing?.[1] ?? '')
    .split(';')
    .map((part) => part.trim())
    .filter((part) => part !== '' && !(part.split('=')[0].toLowerCase() in asked));
  const text = `a=fmtp:${payload} ${[...kept, ...Object.entries(asked).map(([name, value]) => `${name}=${value}`)].join(';')}${end}`;
  if (existing) return sdp.replace(line, () => text);
  return sdp.replace(new RegExp(`^(a=rtpmap:${payload} .*)$`, 'm'), (rtpmap) => `${rtpmap}\n${text}`);
}
