-- Up Migration
-- A place on internet radio. Its password is encrypted with the operator's key and never leaves the server.
create table station (
  id uuid primary key,
  show_id uuid not null references show on delete cascade,
  settings jsonb not null,
  password bytea,
  created_at timestamptz not null default now()
);
create index station_show on station (show_id);

-- One stretch on the air. The desk feeds it, the sender says how it goes.
create table broadcast (
  id uuid primary key,
  station_id uuid references station on delete set null,
  episode_id uuid not null references episode on delete cascade,
  settings jsonb not null,
  started_at timestamptz not null default now(),
  ended_at timestamptz,
  -- The desk asked for its end, and why.
  ending_at timestamptz,
  reason text not null default '',
  next_piece integer not null default 0,
  fed_at timestamptz not null default now(),
  state text not null default 'waiting' check (state in ('waiting', 'connecting', 'on', 'silent', 'away', 'ended')),
  on_since timestamptz,
  bytes bigint not null default 0,
  reconnections integer not null default 0,
  dropped_ms bigint not null default 0,
  silence_ms bigint not null default 0,
  buffered_ms integer not null default 0,
  sent_session bigint,
  sent_sample bigint,
  sent_at timestamptz,
  title text not null default ''
);
-- One station carries one stream at a time.
create unique index broadcast_of_station on broadcast (station_id) where ended_at is null;
create index broadcast_episode on broadcast (episode_id);

-- On its way from desk to sender for a second or so: lost with the database, and then too old anyway.
create unlogged table air_piece (
  broadcast_id uuid not null,
  number integer not null,
  session bigint not null,
  from_sample bigint not null,
  samples integer not null,
  late_ms double precision not null,
  came_at timestamptz not null default clock_timestamp(),
  packets bytea not null,
  primary key (broadcast_id, number)
);

create table air_title (
  id bigint generated always as identity primary key,
  broadcast_id uuid not null references broadcast on delete cascade,
  text text not null,
  said_by text not null check (said_by in ('sound', 'episode', 'typed')),
  session bigint not null,
  sample bigint not null,
  said_at timestamptz not null default now(),
  sent_at timestamptz
);
create index air_title_broadcast on air_title (broadcast_id, id);

-- Who is named when a sound plays: on the air and in the notes.
alter table sound add column credit text not null default '';

-- How a show finishes its mixes.
alter table show add column mix_settings jsonb not null default '{}';
