-- Up Migration
-- A colleague's link ends with the membership of whoever made it, and can be taken back.
alter table colleague_link add column made_by uuid references account on delete cascade;
alter table colleague_link add column revoked_at timestamptz;

-- A browser that somebody has signed in with stays welcome while others guess at their password.
create table known_browser (
  token_hash bytea primary key,
  account_id uuid not null references account on delete cascade,
  seen_at timestamptz not null default now()
);
create index known_browser_account on known_browser (account_id);

-- Where a show's days begin and end; null for wherever its server stands.
alter table show add column time_zone text;

-- Sounds lie in pieces of 4 MiB, so that none is ever in memory whole.
create table sound_piece (
  sound_id uuid not null references sound on delete cascade deferrable initially deferred,
  index integer not null check (index >= 0),
  bytes bytea not null,
  primary key (sound_id, index)
);
alter table sound_piece alter column bytes set storage external;
insert into sound_piece (sound_id, index, bytes)
  select id, n, substring(audio from n * 4194304 + 1 for 4194304)
    from sound, generate_series(0, (octet_length(audio) - 1) / 4194304) as n;
alter table sound add column length_bytes bigint;
update sound set length_bytes = octet_length(audio);
alter table sound alter column length_bytes set not null;
alter table sound drop column audio;

-- After this moment nothing of the recording can have been captured any more: its link was taken back, or its seat.
alter table home_recording add column closed_at timestamptz;

-- Counted as it comes: summing up chunks takes too long where there are many.
alter table home_recording add column stored_bytes bigint not null default 0;
update home_recording set stored_bytes = (select coalesce(sum(octet_length(samples)), 0) from home_chunk where home_id = id);
