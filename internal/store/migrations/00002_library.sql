-- +goose Up

-- The site's own values, every version kept: lubricants, materials, gaskets, threads.
create table library_values (
  shelf text not null check (shelf in ('lubricants', 'materials', 'gaskets', 'threads')),
  code text not null check (code <> ''),
  version integer not null check (version > 0),
  data text not null,
  withdrawn boolean not null default false,
  made_by text not null,
  reason text not null,
  made_at timestamptz not null default now(),
  primary key (shelf, code, version)
);
create trigger keep before update or delete on library_values for each row execute function refuse_change();

insert into library_values (shelf, code, version, data, made_by, reason)
select 'lubricants', code, 1, data, 'the first set-up', 'entered before versions were kept' from lubricant_cards;
drop table lubricant_cards;

-- Which of them a plan was made with.
create table plan_uses (
  plan_id uuid not null references plans,
  shelf text not null,
  code text not null,
  version integer not null,
  primary key (plan_id, shelf, code)
);
create index plan_uses_value on plan_uses (shelf, code);

insert into plan_uses (plan_id, shelf, code, version)
select p.id, 'lubricants', v.code, 1 from plans p join library_values v on v.shelf = 'lubricants' and v.code = p.data::jsonb -> 'lubricant' ->> 'code';

grant select, insert on library_values, plan_uses to dynacor_app;

-- +goose Down
create table lubricant_cards (
  code text primary key check (code <> ''),
  data text not null
);
insert into lubricant_cards (code, data)
select distinct on (code) code, data from library_values where shelf = 'lubricants' and not withdrawn order by code, version desc;
grant select, insert, update on lubricant_cards to dynacor_app;
drop table plan_uses, library_values;
