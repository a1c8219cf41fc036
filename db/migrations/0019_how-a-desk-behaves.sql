-- Up Migration
-- How a show's desks behave where nobody says otherwise, and what one episode does otherwise than its show.
alter table show add column habits jsonb not null default '{}';
alter table episode add column habits jsonb not null default '{}';

-- A demo can be opened beside one's own shows, and put away again.
alter table show add column demo boolean not null default false;
update show set demo = true where slug = 'ferry-weather';
