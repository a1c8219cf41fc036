-- Up Migration
-- A guest's own recording of their microphone, by their own clock. A take has several of one seat when the
-- take was paused, or the guest's page opened anew.
create table home_recording (
  id uuid primary key default gen_random_uuid(),
  take_id uuid not null references take on delete cascade,
  seat_id text not null,
  -- Only the browser that records knows the key; it goes on sending after its link has ended.
  key_hash bytea not null unique,
  format text not null check (format in ('pcm16', 'pcm24', 'float32')),
  began_at timestamptz not null default now(),
  -- How much the guest's browser had kept when it last said so.
  kept_samples bigint not null default 0,
  -- Known once the recording has ended and all of it has arrived.
  length_samples bigint,
  heard_at timestamptz not null default now()
);
create index home_recording_take on home_recording (take_id, seat_id, began_at);

create table home_chunk (
  home_id uuid not null references home_recording on delete cascade,
  index integer not null check (index >= 0),
  frames integer not null check (frames > 0),
  sha256 bytea not null,
  samples bytea not null,
  primary key (home_id, index)
);
alter table home_chunk alter column samples set storage external;

alter table track drop constraint track_kind_check;
alter table track add constraint track_kind_check
  check (kind in ('voice', 'sounds', 'share', 'talkback', 'feed', 'return', 'program', 'phones', 'repaired', 'home', 'best'));
alter table task drop constraint task_kind_check;
alter table task add constraint task_kind_check check (kind in ('check', 'export', 'repair', 'home'));
alter table gap drop constraint gap_cause_check;
alter table gap add constraint gap_cause_check
  check (cause in ('ring-overrun', 'not-received', 'not-in-call', 'line-lost', 'not-at-home', 'desk-away'));
