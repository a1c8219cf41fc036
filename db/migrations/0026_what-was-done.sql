-- Up Migration
-- Who did what that others may want to know later. It outlives the account and the show it speaks of, for its time.
create table audit_event (
  id bigint generated always as identity primary key,
  at timestamptz not null default now(),
  account_id uuid references account on delete set null,
  account_name text not null,
  show_id uuid references show on delete set null,
  kind text not null check (kind in ('sign-in', 'invitation', 'member', 'removal', 'export', 'password', 'station')),
  words text not null
);
create index audit_event_show on audit_event (show_id, id desc);
create index audit_event_account on audit_event (account_id, id desc);
