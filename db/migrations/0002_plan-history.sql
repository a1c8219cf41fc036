-- Up Migration
alter table track drop constraint track_kind_check;
alter table track add constraint track_kind_check
  check (kind in ('voice', 'sounds', 'share', 'talkback', 'feed', 'return', 'program', 'phones'));

-- Every plan that was ever in force for an episode.
create table plan_version (
  episode_id uuid not null references episode on delete cascade,
  version integer not null,
  body jsonb not null,
  stored_at timestamptz not null default now(),
  primary key (episode_id, version)
);

-- Plans a show keeps as starting points.
create table named_plan (
  show_id uuid not null references show on delete cascade,
  name text not null check (length(name) between 1 and 60),
  body jsonb not null,
  stored_at timestamptz not null default now(),
  primary key (show_id, name)
);

-- What changed in the plan while a take was recorded; the plan at its beginning is in the take.
create table take_plan_change (
  take_id uuid not null references take on delete cascade,
  at_sample bigint not null check (at_sample >= 0),
  place integer not null,
  plan jsonb not null,
  primary key (take_id, place)
);

-- Keys as the host set them; what is absent has its default.
create table host_keys (
  only_row boolean primary key default true check (only_row),
  bindings jsonb not null
);
