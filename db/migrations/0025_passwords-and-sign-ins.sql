-- Up Migration
-- Every sign-in can be seen and ended by its owner.
alter table sign_in add column id uuid not null default gen_random_uuid() unique;
alter table sign_in add column browser text not null default '';
alter table sign_in add column seen_at timestamptz not null default now();

-- A link by which somebody who forgot their password sets another one, once.
create table password_reset (
  token_hash bytea primary key,
  account_id uuid not null references account on delete cascade,
  expires_at timestamptz not null
);
