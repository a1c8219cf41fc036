/** A page, worker or worklet that can be spoken to. */
export interface Target {
  sessionId: string;
  kind: string;
}

type Answer = Record<string, unknown>;

/** It answers when it is let run. */
const ANSWER_MS = 10_000;

/**
 * A browser by its DevTools protocol alone. What drives pages leaves a world of its own in them whenever it comes, and has the browser keep
 * all that a page sends, in the page's process; this leaves nothing. Needs Node's WebSocket (`--experimental-websocket` in Node 20).
 */
export class Devtools {
  #next = 0;
  readonly #waiting = new Map<number, (answer: Answer | null) => void>();
  readonly #hearers = new Map<string, (params: Answer, sessionId?: string) => void>();

  private constructor(private readonly socket: WebSocket) {
    socket.addEventListener('message', ({ data }: MessageEvent<string>) => {
      const { id, result, method, params, sessionId } = JSON.parse(data) as { id?: number; result?: Answer; method?: string; params?: Answer; sessionId?: string };
      if (id !== undefined) this.#waiting.get(id)?.(result ?? null);
      else this.#hearers.get(method!)?.(params!, sessionId);
    });
  }

  static async connect(port: number): Promise<Devtools> {
    const { webSocketDebuggerUrl } = (await (await fetch(`http://127.0.0.1:${port}/json/version`)).json()) as { webSocketDebuggerUrl: string };
    const socket = new WebSocket(webSocketDebuggerUrl);
    await new Promise((resolve, reject) => {
      socket.addEventListener('open', resolve);
      socket.addEventListener('error', () => reject(new Error('The browser does not answer.')));
    });
    return new Devtools(socket);
  }

  close(): void {
    this.socket.close();
  }

  hear(method: string, hearer: (params: Answer, sessionId?: string) => void): void {
    this.#hearers.set(method, hearer);
  }

  /** Null where it does not answer in time, or cannot do it. */
  ask(method: string, params: object = {}, sessionId?: string, withinMs = ANSWER_MS): Promise<Answer | null> {
    const id = ++this.#next;
    return new Promise((resolve) => {
      const done = (answer: Answer | null) => {
        clearTimeout(timer);
        this.#waiting.delete(id);
        resolve(answer);
      };
      const timer = setTimeout(done, withinMs, null);
      this.#waiting.set(id, done);
      this.socket.send(JSON.stringify({ id, method, params, ...(sessionId ? { sessionId } : {}) }));
    });
  }

  /** The one page, and every worker and worklet of it. */
  async targets(): Promise<Target[]> {
    const found: Target[] = [];
    this.hear('Target.attachedToTarget', (params) => {
      const { sessionId, targetInfo } = params as unknown as { sessionId: string; targetInfo: { type: string } };
      found.push({ sessionId, kind: targetInfo.type });
    });
    const { targetInfos } = (await this.ask('Target.getTargets')) as unknown as { targetInfos: { type: string; targetId: string }[] };
    await this.ask('Target.attachToTarget', { targetId: targetInfos.find(({ type }) => type === 'page')!.targetId, flatten: true });
    await this.ask('Target.setAutoAttach', { autoAttach: true, waitForDebuggerOnStart: false, flatten: true }, found[0].sessionId);
    return found;
  }

  /** What an expression gives in a page. */
  async evaluate<Value>(page: Target, expression: string): Promise<Value> {
    const { result } = (await this.ask('Runtime.evaluate', { expression, awaitPromise: true, returnByValue: true, userGesture: true }, page.sessionId)) as unknown as { result: { value: Value } };
    return result.value;
  }
}
