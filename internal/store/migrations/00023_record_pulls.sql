-- +goose Up
-- What each fastener of a sealed record came to, where it was read: for the numbers of the site. It follows from the
-- records and is made anew with what they are searched by.
create table record_pulls (
  number text not null references records,
  position int not null,
  fastener text not null,
  tag text not null,
  at timestamptz not null,
  tool text not null,
  method text not null,
  crew text not null,
  lubricant text not null,
  family text not null,
  area text not null,
  pct double precision not null, -- from its own aim
  low double precision not null, -- its own limits; both 0: none
  high double precision not null,
  primary key (number, position)
);
create index record_pulls_at on record_pulls (at);
grant select, insert, delete on record_pulls to dynacor_app;

-- +goose Down
drop table record_pulls;
