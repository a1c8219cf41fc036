-- Up Migration
-- A voice track whose noise was suppressed, beside the one that has it.
alter table track drop constraint track_kind_check;
alter table track add constraint track_kind_check
  check (kind in ('voice', 'sounds', 'share', 'input', 'talkback', 'processed', 'feed', 'return', 'program', 'phones', 'repaired', 'quietened', 'home', 'best'));
alter table task drop constraint task_kind_check;
alter table task add constraint task_kind_check check (kind in ('check', 'export', 'repair', 'quieten', 'home'));
