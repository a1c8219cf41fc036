-- Up Migration
-- What was plugged in where while a take was recorded: devices by name, channels, and how late each mix left.
create table take_plugs (
  take_id uuid not null references take (id) on delete cascade,
  at_sample bigint not null check (at_sample >= 0),
  plugs jsonb not null,
  primary key (take_id, at_sample)
);
