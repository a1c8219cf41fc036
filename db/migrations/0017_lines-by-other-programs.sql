-- Up Migration
-- Everybody who speaks on one line, where it is more than one person: a conference in another program.
alter table seat add column people text[] not null default '{}';

-- What comes in through a device and is nobody's voice has a track of its own.
alter table track drop constraint track_kind_check;
alter table track add constraint track_kind_check
  check (kind in ('voice', 'sounds', 'share', 'input', 'talkback', 'processed', 'feed', 'return', 'program', 'phones', 'repaired', 'home', 'best'));

-- A device whose clock ran apart, or that did not deliver in time, lost samples.
alter table gap drop constraint gap_cause_check;
alter table gap add constraint gap_cause_check
  check (cause in ('ring-overrun', 'not-received', 'not-in-call', 'line-lost', 'not-at-home', 'desk-away', 'device-away', 'device-late'));
