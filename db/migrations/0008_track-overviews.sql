-- Up Migration
-- Lowest and highest sample of every second, 16-bit little-endian, made when a sealed track is first drawn whole.
alter table track add column overview bytea;
