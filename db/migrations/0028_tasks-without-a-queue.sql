-- Up Migration
-- Tasks are rows, and whoever asks for one wakes the workers by NOTIFY: the queue beside them told nothing that the rows do not.
drop schema if exists pgboss cascade;
drop index task_open;
create index task_open on task (asked_at) where state in ('waiting', 'running');
