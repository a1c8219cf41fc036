-- Up Migration
-- How a show records: the format of its samples. What is not in it is as the product has it.
alter table show add column recording_settings jsonb not null default '{}';

-- Moments and stretches of a take that somebody marked while it was recorded.
create table take_marker (
  id uuid primary key,
  take_id uuid not null references take on delete cascade,
  at_sample bigint not null check (at_sample >= 0),
  length_samples bigint not null default 0 check (length_samples >= 0),
  name text not null,
  made_at timestamptz not null default now()
);
create index take_marker_by_take on take_marker (take_id, at_sample);
