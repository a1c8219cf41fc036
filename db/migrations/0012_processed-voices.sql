-- A voice as it goes into the mixes can have a track beside the one as it came in.
alter table track drop constraint track_kind_check;
alter table track add constraint track_kind_check
  check (kind in ('voice', 'sounds', 'share', 'talkback', 'processed', 'feed', 'return', 'program', 'phones', 'repaired', 'home', 'best'));
