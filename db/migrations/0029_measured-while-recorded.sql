-- Up Migration
-- What was measured of a track by itself, of a sealed take: its sound does not change any more.
create table track_measure (
  track_id uuid primary key references track on delete cascade,
  -- Of the way it was measured: what another version of the product found is measured anew.
  version integer not null,
  measured jsonb not null,
  -- Mean square of each tenth of a second, 64-bit floats, little-endian.
  steps bytea not null
);
-- Who measures a take while it is recorded, so that it is done once.
create table take_measuring (
  take_id uuid primary key references take on delete cascade,
  worker text not null,
  heard_at timestamptz not null default now()
);
