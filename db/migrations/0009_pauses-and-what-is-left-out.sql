-- Up Migration
-- Where recording was paused, in samples of the take, and how long each pause lasted.
alter table take add column pauses jsonb not null default '[]';
-- What the host left out of a take, and why.
alter table take add column not_recorded jsonb not null default '[]';
