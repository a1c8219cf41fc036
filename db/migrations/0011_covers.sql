-- Up Migration
-- The picture that finished MP3 files carry.
alter table show add column cover bytea;
alter table show add column cover_type text check (cover_type in ('image/png', 'image/jpeg'));
