import type { NetworkFound } from '@/core/lines/network';
import { pause } from '../pause';
import { tryCall } from './try-call';

const GATHER_WITHIN_MS = 5000;

const hasHelper = (iceServers: readonly RTCIceServer[], scheme: RegExp): boolean => iceServers.some(({ urls }) => [urls].flat().some((url) => scheme.test(url)));

/** Looks which ways this browser's network has to the helpers it was given. */
export async function tryNetwork(iceServers: RTCIceServer[]): Promise<NetworkFound> {
  const [direct, relay] = await Promise.all([
    hasHelper(iceServers, /^(stun|turn)s?:/) ? answersFromOutside(iceServers) : null,
    hasHelper(iceServers, /^turns?:/) ? tryCall(iceServers, 'relay').then(({ through }) => through) : null,
  ]);
  return { direct, relay };
}

/** Whether a helper saw this browser by UDP: it says as what address (RFC 8445, server-reflexive and relayed candidates). */
async function answersFromOutside(iceServers: RTCIceServer[]): Promise<boolean> {
  const connection = new RTCPeerConnection({ iceServers });
  try {
    connection.createDataChannel('try');
    const gathered = new Promise<void>((resolve) => (connection.onicegatheringstatechange = () => connection.iceGatheringState === 'complete' && resolve()));
    await connection.setLocalDescription();
    await Promise.race([gathered, pause(GATHER_WITHIN_MS)]);
    // Somebody with an address of their own is seen as what they are, and that is not told apart; what the relay gave by UDP is.
    const stats = [...((await connection.getStats()) as unknown as Map<string, { type: string; candidateType?: string; relayProtocol?: string }>).values()];
    return stats.some(({ type, candidateType, relayProtocol }) => type === 'local-candidate' && (candidateType === 'srflx' || (candidateType === 'relay' && relayProtocol === 'udp')));
  } finally {
    connection.close();
  }
}
