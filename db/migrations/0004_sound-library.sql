-- Up Migration
-- What a sound is for decides how loud it is played unless the host says otherwise.
alter table sound add column kind text not null default 'clip' check (kind in ('clip', 'sting', 'bed', 'theme'));
alter table sound add column notes text not null default '';
-- The file as it was given: kept is what it sounds like, as 48 kHz FLAC.
alter table sound add column original_sha256 bytea;
-- Measured at import; null for a sound that came before measuring did.
alter table sound add column integrated_lufs real;
alter table sound add column short_term_lufs real;
alter table sound add column true_peak_db real;
alter table sound add column head_silence_samples bigint not null default 0;
alter table sound add column tail_silence_samples bigint not null default 0;
-- Added whenever it is played; the sound itself is never altered.
alter table sound add column gain_db real not null default 0;
alter table sound add column added_at timestamptz not null default now();
create unique index sound_original on sound (show_id, original_sha256) where original_sha256 is not null;
