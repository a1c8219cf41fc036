/** What somebody may be in a show. */
export const SHOW_ROLES = ['owner', 'host', 'producer'] as const;
export type ShowRole = (typeof SHOW_ROLES)[number];

/** Everything that is allowed or refused in a show, with the roles that may. */
export const RIGHTS = Object.freeze({
  /** See the desk, the plan, the lines and the takes. */
  watch: ['owner', 'host', 'producer'],
  /** Talk privately into the call. */
  'talk-back': ['owner', 'host', 'producer'],
  /** Work the desk: the call, the plan, the pads, the lines. */
  work: ['owner', 'host'],
  /** Begin, fill and seal takes. */
  record: ['owner', 'host'],
  /** Make episodes and seats, and let guests in or out. */
  invite: ['owner', 'host'],
  /** Say who may work on the show. */
  members: ['owner'],
} as const satisfies Record<string, readonly ShowRole[]>);

export type Right = keyof typeof RIGHTS;

export const mayIn = (role: ShowRole, right: Right): boolean => (RIGHTS[right] as readonly ShowRole[]).includes(role);
