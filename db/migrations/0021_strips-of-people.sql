-- Up Migration
-- What is done to somebody's voice on its way into the mixes, as their newest plan has it: they bring it to the next episode.
alter table person add column strip jsonb;
