-- Up Migration
create table show (
  id uuid primary key default gen_random_uuid(),
  slug text not null unique,
  name text not null,
  created_at timestamptz not null default now()
);

create table person (
  id uuid primary key default gen_random_uuid(),
  show_id uuid not null references show on delete cascade,
  -- What the host calls them, and their whole name for files.
  name text not null,
  full_name text not null,
  about text not null default '',
  reflexive text not null check (reflexive in ('herself', 'himself', 'themselves'))
);

create table episode (
  id uuid primary key default gen_random_uuid(),
  show_id uuid not null references show on delete cascade,
  number integer not null check (number > 0),
  title text not null,
  -- Set while a call runs, so that a reloaded desk knows to take it up again.
  call_started_at timestamptz,
  created_at timestamptz not null default now(),
  unique (show_id, number)
);

create table seat (
  episode_id uuid not null references episode on delete cascade,
  id text not null check (id ~ '^[a-z0-9-]{1,40}$'),
  person_id uuid not null references person,
  place integer not null,
  role text not null check (role in ('host', 'caller', 'producer')),
  line text not null check (line in ('link', 'pair', 'tab', 'practice')),
  -- Practice lines only: which voice, room and network.
  practice jsonb,
  primary key (episode_id, id)
);

create table sound (
  id uuid primary key default gen_random_uuid(),
  show_id uuid not null references show on delete cascade,
  name text not null,
  file_name text not null,
  media_type text not null,
  sha256 bytea not null,
  audio bytea not null,
  length_samples bigint not null check (length_samples > 0),
  unique (show_id, sha256)
);
-- Sound does not compress further; without this PostgreSQL would try on every write.
alter table sound alter column audio set storage external;

create table pad (
  episode_id uuid not null references episode on delete cascade,
  place integer not null,
  sound_id uuid not null references sound on delete cascade,
  -- The sound player this pad belongs to, as named in the hearing plan.
  player text not null,
  key text not null,
  loops boolean not null default false,
  level_db real not null default 0,
  primary key (episode_id, place)
);

create table hearing_plan (
  episode_id uuid primary key references episode on delete cascade,
  version integer not null default 1,
  body jsonb not null,
  changed_at timestamptz not null default now()
);

create table take (
  id uuid primary key default gen_random_uuid(),
  episode_id uuid not null references episode on delete cascade,
  number integer not null,
  state text not null default 'recording' check (state in ('recording', 'sealed')),
  started_at timestamptz not null default now(),
  sealed_at timestamptz,
  -- Length of every track, in samples at 48 kHz; known when the take is sealed.
  length_samples bigint,
  -- The plan in force when the take began.
  plan jsonb not null,
  -- Where the desk's session clock stood at the take's first sample and at the call's first
  -- sample; told when the take is sealed.
  clock_at_start bigint,
  clock_at_call bigint,
  unique (episode_id, number),
  check ((state = 'sealed') = (length_samples is not null))
);

create table track (
  id uuid primary key default gen_random_uuid(),
  take_id uuid not null references take on delete cascade,
  place integer not null,
  kind text not null check (kind in ('voice', 'sounds', 'return', 'program', 'phones')),
  -- The source or listener recorded, as the hearing plan names it.
  recorded text not null,
  name text not null,
  channels smallint not null check (channels in (1, 2)),
  format text not null check (format in ('pcm16', 'pcm24', 'float32')),
  unique (take_id, place)
);

create table chunk (
  track_id uuid not null references track on delete cascade,
  -- Chunk n holds the frames from n × 96 000 on.
  index integer not null check (index >= 0),
  frames integer not null check (frames > 0),
  sha256 bytea not null,
  samples bytea not null,
  -- Lowest and highest sample of every 480 frames, 16-bit little-endian, for drawing.
  peaks bytea not null,
  peak real not null,
  sum_of_squares double precision not null,
  received_at timestamptz not null default now(),
  primary key (track_id, index)
);
alter table chunk alter column samples set storage external;

-- Stretches of a track that hold silence because the sound was lost.
create table gap (
  track_id uuid not null references track on delete cascade,
  at_sample bigint not null,
  length_samples bigint not null check (length_samples > 0),
  cause text not null check (cause in ('ring-overrun', 'not-received')),
  primary key (track_id, at_sample)
);
