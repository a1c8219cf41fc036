-- Up Migration
-- A take can be named, noted, and put away for a while before it is gone.
alter table take add column name text not null default '';
alter table take add column note text not null default '';
alter table take add column binned_at timestamptz;

-- Tracks that were made from others afterwards. What they came from stays as it was.
alter table track drop constraint track_kind_check;
alter table track add constraint track_kind_check
  check (kind in ('voice', 'sounds', 'share', 'talkback', 'feed', 'return', 'program', 'phones', 'repaired'));
alter table track add column derived_from uuid references track on delete cascade;
-- What was measured when it was made.
alter table track add column made jsonb;

-- Long work on a take: what is asked, how far it is, what came of it.
create table task (
  id uuid primary key default gen_random_uuid(),
  take_id uuid not null references take on delete cascade,
  kind text not null check (kind in ('check', 'export', 'repair')),
  params jsonb not null,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed', 'cancelled')),
  -- 0 to 1.
  progress real not null default 0,
  result jsonb,
  problem text,
  -- Which worker has it, and when that last said so: a task whose worker is silent is given to another.
  worker text,
  heard_at timestamptz,
  asked_at timestamptz not null default now(),
  ended_at timestamptz
);
create index task_by_take on task (take_id, asked_at);
create index task_open on task (state) where state in ('waiting', 'running');

-- A file that a task made, in pieces of 4 MiB, so that a download can go on where it broke off.
create table export_file (
  task_id uuid primary key references task on delete cascade,
  file_name text not null,
  media_type text not null,
  length_bytes bigint not null
);
create table export_piece (
  task_id uuid not null references task on delete cascade,
  index integer not null,
  bytes bytea not null,
  primary key (task_id, index)
);
alter table export_piece alter column bytes set storage external;
