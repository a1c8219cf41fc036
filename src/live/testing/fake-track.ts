/** A microphone and its plug. */
export class FakeTrack {
  enabled = true;
  stopped = false;
  #ended: (() => void)[] = [];
  constructor(readonly label: string) {}
  getSettings = () => ({ deviceId: this.label });
  stop = () => (this.stopped = true);
  addEventListener = (_: string, ended: () => void) => void this.#ended.push(ended);
  removeEventListener = (_: string, ended: () => void) => void (this.#ended = this.#ended.filter((one) => one !== ended));
  pullOut = () => this.#ended.forEach((ended) => ended());
}
