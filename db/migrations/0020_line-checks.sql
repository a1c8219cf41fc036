-- Up Migration
-- What was measured of an episode's lines before it was recorded; a take belongs to the newest before it.
create table line_check (
  id bigint generated always as identity primary key,
  episode_id uuid not null references episode on delete cascade,
  checked_at timestamptz not null,
  found jsonb not null
);
create index line_check_of_episode on line_check (episode_id, checked_at desc);
