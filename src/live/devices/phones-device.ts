import { canChooseOutputs } from './open-context';
import { readKnown, readOwnSound } from './kept-choices';

/** The browser's id of the output the host chose for phones, where it is there now; empty for what the system offers. */
export async function phonesDevice(): Promise<string> {
  const { phones } = readOwnSound();
  const device = readKnown().find(({ key }) => key === phones);
  if (!device || !canChooseOutputs()) return '';
  const listed = (await navigator.mediaDevices?.enumerateDevices().catch(() => [])) ?? [];
  return listed.some(({ kind, deviceId }) => kind === 'audiooutput' && deviceId === device.id) ? device.id : '';
}
