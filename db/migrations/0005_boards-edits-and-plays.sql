-- Up Migration
-- What of a sound is played; the sound itself stays as it came.
alter table sound add column in_sample bigint not null default 0 check (in_sample >= 0);
alter table sound add column out_sample bigint check (out_sample > in_sample);
alter table sound add column fade_in_samples bigint not null default 0 check (fade_in_samples >= 0);
alter table sound add column fade_out_samples bigint not null default 0 check (fade_out_samples >= 0);
alter table sound add column loop_from bigint check (loop_from >= 0);
alter table sound add column loop_to bigint check (loop_to > loop_from);
-- The levels, fades and moves of a show's sounds; what is not in it is as the product has it.
alter table show add column sound_settings jsonb not null default '{}';

alter table pad add column mode text not null default 'once' check (mode in ('once', 'loop', 'hold'));
alter table pad add column again text not null default 'restart' check (again in ('restart', 'stop', 'overlap'));
-- Sounds of one group give way to each other.
alter table pad add column exclusive_group text;
update pad set mode = 'loop', again = 'stop' where loops;
alter table pad drop column loops;

-- Boards a show keeps for later episodes.
create table named_board (
  show_id uuid not null references show on delete cascade,
  name text not null,
  body jsonb not null,
  stored_at timestamptz not null default now(),
  primary key (show_id, name)
);

-- Where an account's controller acts on the desk.
create table account_midi (
  account_id uuid primary key references account on delete cascade,
  bindings jsonb not null
);

-- What was played during a take. The names are as they were then.
create table take_play (
  take_id uuid not null references take on delete cascade,
  place integer not null,
  sound_id uuid references sound on delete set null,
  name text not null,
  kind text not null,
  file_name text not null,
  at_sample bigint not null check (at_sample >= 0),
  length_samples bigint not null check (length_samples > 0),
  -- Gain it was given, and what it measured as it left its player.
  gain_db real not null,
  peak_db real,
  rms_db real,
  primary key (take_id, place)
);
