export function trustedProxies(text: string | undefined): Set<string>;
export function mayConnect(peer: string | undefined, trusted: Set<string>): boolean;
export function noteWay(headers: Record<string, string | string[] | undefined>, peer: string | undefined, trusted: Set<string>, byTls?: boolean): void;
