-- Up Migration
-- Every process beside the servers says now and then that it lives; lost with a crash, and said again at once.
create unlogged table process_beat (
  id text primary key,
  kind text not null check (kind in ('worker', 'sender')),
  seen_at timestamptz not null default now()
);
