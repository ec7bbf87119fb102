-- +goose Up

-- How many joints an area has and how many are accepted, kept as they change: counting fifty thousand joints takes longer than a page may.
create table area_totals (
  area text primary key,
  total integer not null,
  accepted integer not null
);
insert into area_totals select area, count(*), count(*) filter (where glyph = 'accepted') from joints group by area;
grant select on area_totals to dynacor_app;

-- +goose StatementBegin
create function count_new_joints() returns trigger language plpgsql security definer set search_path = public, pg_temp as $$
begin
  insert into area_totals as t
    select area, count(*), count(*) filter (where glyph = 'accepted') from fresh group by area order by area
  on conflict (area) do update set total = t.total + excluded.total, accepted = t.accepted + excluded.accepted;
  return null;
end $$;
-- +goose StatementEnd

-- +goose StatementBegin
create function count_changed_joint() returns trigger language plpgsql security definer set search_path = public, pg_temp as $$
begin
  update area_totals set total = total - 1, accepted = accepted - (old.glyph = 'accepted')::int where area = old.area;
  delete from area_totals where area = old.area and total = 0;
  insert into area_totals as t values (new.area, 1, (new.glyph = 'accepted')::int)
  on conflict (area) do update set total = t.total + 1, accepted = t.accepted + excluded.accepted;
  return null;
end $$;
-- +goose StatementEnd

create trigger count_new after insert on joints referencing new table as fresh for each statement execute function count_new_joints();
create trigger count_changed after update on joints for each row
  when (old.area is distinct from new.area or (old.glyph = 'accepted') is distinct from (new.glyph = 'accepted')) execute function count_changed_joint();

-- +goose Down
drop trigger count_changed on joints;
drop trigger count_new on joints;
drop function count_changed_joint;
drop function count_new_joints;
drop table area_totals;
