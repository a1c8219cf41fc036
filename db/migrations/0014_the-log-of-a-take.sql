-- Up Migration
-- What the hands did over a plan (coughs, private talk, what was held out), how long its gains took to get there, and
-- in words what anybody heard differently; words are absent where only the hands moved.
alter table take add column hands jsonb not null default '{}';
alter table take_plan_change add column hands jsonb not null default '{}';
alter table take_plan_change add column ramp_seconds real;
alter table take_plan_change add column words text;
-- Earlier versions did not write words down.
update take_plan_change set words = 'The plan changed';

-- A track that was added while its take ran begins with this sample; before it there is silence.
alter table track add column from_sample bigint not null default 0 check (from_sample >= 0);

alter table gap drop constraint gap_cause_check;
alter table gap add constraint gap_cause_check
  check (cause in ('ring-overrun', 'not-received', 'not-in-call', 'line-lost', 'not-at-home', 'desk-away', 'device-away'));
