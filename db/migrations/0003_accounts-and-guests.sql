-- Up Migration
-- People who sign in. The demo's own account has no password: it is signed in on this machine only.
create table account (
  id uuid primary key default gen_random_uuid(),
  email text not null check (email = lower(email) and length(email) between 3 and 254),
  name text not null check (length(name) between 1 and 60),
  password_hash text,
  created_at timestamptz not null default now(),
  unique (email)
);

create table show_member (
  show_id uuid not null references show on delete cascade,
  account_id uuid not null references account on delete cascade,
  role text not null check (role in ('owner', 'host', 'producer')),
  primary key (show_id, account_id)
);

-- A browser that is signed in. The cookie holds the token, this table its SHA-256.
create table sign_in (
  token_hash bytea primary key,
  account_id uuid not null references account on delete cascade,
  created_at timestamptz not null default now(),
  expires_at timestamptz not null
);
create index sign_in_account on sign_in (account_id);

-- A link that lets a colleague make an account with a role in a show; used once.
create table colleague_link (
  id uuid primary key default gen_random_uuid(),
  show_id uuid not null references show on delete cascade,
  role text not null check (role in ('owner', 'host', 'producer')),
  token_hash bytea not null unique,
  created_at timestamptz not null default now(),
  expires_at timestamptz not null,
  used_at timestamptz
);

-- How often something was tried in a stretch of time.
create table attempt_count (
  bucket text not null,
  began_at timestamptz not null,
  attempts integer not null,
  primary key (bucket, began_at)
);

alter table episode add column planned_at timestamptz;
alter table episode add column planned_minutes integer not null default 60 check (planned_minutes between 5 and 1440);

-- How a link's sound is coded; what is absent has its default.
alter table seat add column line_settings jsonb not null default '{}';

-- A guest's link. Only the newest of a seat that is neither revoked nor expired lets anybody in.
create table invitation (
  id uuid primary key default gen_random_uuid(),
  episode_id uuid not null,
  seat_id text not null,
  token_hash bytea not null unique,
  created_at timestamptz not null default now(),
  expires_at timestamptz not null,
  opened_at timestamptz,
  revoked_at timestamptz,
  foreign key (episode_id, seat_id) references seat (episode_id, id) on delete cascade
);
create unique index invitation_in_force on invitation (episode_id, seat_id) where revoked_at is null;

-- What a guest agreed to, in the words they read.
create table consent (
  id bigint primary key generated always as identity,
  episode_id uuid not null,
  seat_id text not null,
  name text not null check (length(name) between 1 and 60),
  wording text not null,
  agreed_at timestamptz not null default now(),
  foreign key (episode_id, seat_id) references seat (episode_id, id) on delete cascade
);
create index consent_seat on consent (episode_id, seat_id, agreed_at desc);

-- The same, kept with each take they are on, whatever becomes of the seat.
create table take_consent (
  take_id uuid not null references take on delete cascade,
  seat_id text not null,
  name text not null,
  wording text not null,
  agreed_at timestamptz not null,
  primary key (take_id, seat_id)
);

-- The one window that holds a party's place in a call: 'desk', or a seat.
create table open_window (
  episode_id uuid not null references episode on delete cascade,
  party text not null,
  window_id uuid not null,
  -- The event stream that keeps it: one window has another after its connection broke.
  stream_id uuid not null,
  seen_at timestamptz not null default now(),
  primary key (episode_id, party)
);

-- Call set-up messages. Ids of one episode grow in the order of their commits.
create table message (
  id bigint primary key generated always as identity,
  episode_id uuid not null references episode on delete cascade,
  sender text not null,
  recipient text not null,
  body jsonb not null,
  sent_at timestamptz not null default now()
);
create index message_recipient on message (episode_id, recipient, id);
create index message_sender on message (episode_id, sender, sent_at);

alter table gap drop constraint gap_cause_check;
alter table gap add constraint gap_cause_check
  check (cause in ('ring-overrun', 'not-received', 'not-in-call', 'line-lost'));

-- What a line was like while a take was recorded, about once a second.
create table take_line_report (
  take_id uuid not null references take on delete cascade,
  seat_id text not null,
  at_sample bigint not null check (at_sample >= 0),
  report jsonb not null,
  primary key (take_id, seat_id, at_sample)
);

-- Keys belong to whoever set them. The demo's account is made when the product next starts and
-- begins with the keys this machine had.
create table account_keys (
  account_id uuid primary key references account on delete cascade,
  bindings jsonb not null
);
