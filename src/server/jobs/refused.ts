/** What was asked cannot be done with this take; the message says why and what to do instead. */
export class RefusedTask extends Error {}
