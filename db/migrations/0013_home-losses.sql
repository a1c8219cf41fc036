-- Up Migration
-- Where the guest's browser could not keep up: silence in the recording that was not silence in the room. A list of
-- {atSample, lengthSamples}, by the guest's clock.
alter table home_recording add column losses jsonb not null default '[]';
