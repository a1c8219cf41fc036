const HEAD_BYTES = 27;
const FIRST = 2;

/** Cuts a stream in Ogg into pages, and keeps the head of the logical stream that runs (RFC 3533). */
export class OggPages {
  #rest: Buffer = Buffer.alloc(0);
  #head: Buffer[] = [];
  #begun = false;
  title = '';

  /** The whole pages that were finished by these bytes. */
  push(more: Buffer): Buffer {
    this.#rest = Buffer.concat([this.#rest, more]);
    const whole: Buffer[] = [];
    for (let page = this.#next(); page; page = this.#next()) {
      this.#look(page);
      whole.push(page);
    }
    return Buffer.concat(whole);
  }

  /** The pages every listener needs before all others. */
  get head(): Buffer {
    return Buffer.concat(this.#head);
  }

  #next(): Buffer | null {
    const at = this.#rest.indexOf('OggS');
    if (at < 0 || this.#rest.length < at + HEAD_BYTES) return null;
    const segments = this.#rest[at + 26];
    const lacing = this.#rest.subarray(at + HEAD_BYTES, at + HEAD_BYTES + segments);
    const end = at + HEAD_BYTES + segments + lacing.reduce((sum, bytes) => sum + bytes, 0);
    if (lacing.length < segments || this.#rest.length < end) return null;
    const page = this.#rest.subarray(at, end);
    this.#rest = this.#rest.subarray(end);
    return page;
  }

  /** Header pages come at the beginning and have no time yet. */
  #look(page: Buffer): void {
    if (page[5] & FIRST) {
      this.#head = [];
      this.#begun = true;
    }
    if (this.#begun && page.readBigInt64LE(6) === 0n) this.#head.push(page);
    else this.#begun = false;
    const tags = page.indexOf('OpusTags');
    if (tags >= 0) this.title = titleIn(page.subarray(tags + 8));
  }
}

/** The title among the comments behind `OpusTags` (RFC 7845, 5.2); empty where there is none. */
function titleIn(bytes: Buffer): string {
  let at = 4 + bytes.readUInt32LE(0);
  const count = bytes.readUInt32LE(at);
  at += 4;
  for (let k = 0; k < count && at + 4 <= bytes.length; k++) {
    const length = bytes.readUInt32LE(at);
    const [name, ...value] = bytes.subarray(at + 4, at + 4 + length).toString('utf8').split('=');
    if (name.toUpperCase() === 'TITLE') return value.join('=');
    at += 4 + length;
  }
  return '';
}
