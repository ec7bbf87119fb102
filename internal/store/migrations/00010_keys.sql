-- +goose Up

-- The signing key lies outside the database. One that still lies in it is moved out before this by the command that migrates.
-- +goose StatementBegin
do $$
begin
  if exists (select from signing_keys where length(private_key) > 0) then
    raise exception 'the signing key still lies in the database: run dynacor migrate with --key';
  end if;
end $$;
-- +goose StatementEnd
alter table signing_keys drop column private_key, add column valid_from timestamptz, add column valid_until timestamptz, add column revoked_from timestamptz,
  add column revoke_reason text not null default '', add column made_by text not null default '';
-- Whoever serves reads which keys hold; only the owner adds, ends and revokes them.
revoke insert on signing_keys from dynacor_app;

-- Whoever serves changes columns, not rows: what identifies a row, and what was said when it was made, stays.
revoke update on people, sign_ins, packages, joints, runs, settings, tools, devices from dynacor_app;
grant update (role, pin_hash, pin_version, pin_set_at, active, retired_at) on people to dynacor_app;
grant update (name) on packages to dynacor_app;
grant update (name, area, equipment, service, family, package, nameplate, specification_version, bolts, make, glyph, stop, summary, present_run, updated_at) on joints to dynacor_app;
grant update (plan_id, last_seq, last_hash, size, sealed_at) on runs to dynacor_app;
grant update (value) on settings to dynacor_app;
grant update (data, updated_at) on tools to dynacor_app;
grant update (token_hash, last_seq, linked_at, about, made_by, made_at) on devices to dynacor_app;
-- A number is never given twice: when a backup was restored, the sequence is set behind the mark that is kept with the key.
grant select, update on sequence record_numbers to dynacor_app;

-- +goose Down
revoke select, update on sequence record_numbers from dynacor_app;
grant update on people, sign_ins, packages, joints, runs, settings, tools, devices to dynacor_app;
grant insert on signing_keys to dynacor_app;
alter table signing_keys add column private_key bytea not null default '', drop column valid_from, drop column valid_until, drop column revoked_from, drop column revoke_reason, drop column made_by;
