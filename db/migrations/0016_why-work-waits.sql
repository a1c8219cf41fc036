-- Up Migration
-- Why a task takes longer than it would by itself, as its worker last said; null while nothing holds it up.
alter table task add column held_up text check (held_up in ('recording', 'call', 'machine'));
