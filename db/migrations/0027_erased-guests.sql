-- Up Migration
-- What a guest agreed to is replaced by the record that everything of theirs was erased, and when.
alter table take_consent add column erased_at timestamptz;

-- Takes come from elsewhere, too.
alter table audit_event drop constraint audit_event_kind_check;
alter table audit_event add constraint audit_event_kind_check
  check (kind in ('sign-in', 'invitation', 'member', 'removal', 'export', 'password', 'station', 'take'));
