-- name: ListPeople :many
select id, name, role, active from people where active order by name;

-- name: EveryPerson :many
select * from people order by active desc, name;

-- name: GetPerson :one
select * from people where id = $1;

-- name: PeopleByID :many
select * from people where id = any($1::uuid[]);

-- name: PersonByName :one
select * from people where name = $1;

-- name: InsertPerson :exec
insert into people (id, name, role, pin_hash) values ($1, $2, $3, $4);

-- name: SetPIN :exec
update people set pin_hash = $2, pin_version = pin_version + 1, pin_set_at = $3, pin_once_until = null where id = $1;

-- name: SetRole :exec
update people set role = $2 where id = $1;

-- name: RetirePerson :exec
update people set active = false, retired_at = $2 where id = $1;

-- name: ReturnPerson :exec
update people set active = true, retired_at = null where id = $1;

-- name: InsertPINFailure :exec
insert into pin_failures (at, person_id, lane, address) values ($1, $2, $3, $4);

-- name: PINFailures :one
-- Wrong PINs in a lane of a person, from an address and in all since a time, with the last of each.
select count(*) filter (where person_id = sqlc.arg(person) and lane = sqlc.arg(lane))::int as in_lane,
  count(*) filter (where address = sqlc.arg(address) and sqlc.arg(address)::text <> '')::int as from_address,
  count(*) filter (where lane = '')::int as by_strangers,
  coalesce(max(at) filter (where person_id = sqlc.arg(person) and lane = sqlc.arg(lane)), 'epoch')::timestamptz as last_in_lane,
  coalesce(max(at) filter (where address = sqlc.arg(address)), 'epoch')::timestamptz as last_from_address,
  coalesce(max(at) filter (where lane = ''), 'epoch')::timestamptz as last_by_strangers
from pin_failures where at > sqlc.arg(since)::timestamptz;

-- name: ForgetPINFailures :exec
-- After the right PIN the lane is free again; what is older than a day says nothing any more.
delete from pin_failures where person_id = $1 and lane = $2 or at < sqlc.arg(before)::timestamptz;

-- name: WasOnDevice :one
select exists (select from device_shifts where key_id = $1 and person_id = $2);

-- name: InsertLogin :exec
insert into logins (id, person_id, pin_version, device_key, address, agent, began_at, seen_at) values ($1, $2, $3, $4, $5, $6, $7, $7);

-- name: GetLogin :one
select l.*, p.name, p.role, p.active, p.pin_version as pin_now from logins l join people p on p.id = l.person_id where l.id = $1;

-- name: SeeLogin :exec
update logins set seen_at = $2 where id = $1;

-- name: EndLogin :execrows
update logins set ended_at = $2, ended_why = $3 where id = $1 and ended_at is null;

-- name: EndLoginsOf :many
update logins set ended_at = $2, ended_why = $3 where person_id = $1 and ended_at is null returning id, device_key;

-- name: OpenLogins :many
select l.*, p.name, p.role from logins l join people p on p.id = l.person_id where l.ended_at is null and l.seen_at > sqlc.arg(since)::timestamptz order by l.seen_at desc limit 500;

-- name: PutDeviceKey :exec
insert into device_keys (id, public_key, made_at, spoke_at) values ($1, $2, sqlc.arg(now), sqlc.arg(now)) on conflict (id) do nothing;

-- name: LockDeviceKeys :many
-- In one order, so that two servers never wait for each other.
select * from device_keys where id = any($1::text[]) order by id for update;

-- name: DevicesSpoke :exec
-- A device with nothing left to send has no time from which its backlog runs.
update device_keys k set spoke_at = u.spoke_at, backlog = u.backlog, backlog_from = case when u.backlog > 0 then u.backlog_from end
from (select unnest(sqlc.arg(ids)::text[]) as id, unnest(sqlc.arg(spoke_at)::timestamptz[]) as spoke_at, unnest(sqlc.arg(backlogs)::int[]) as backlog, unnest(sqlc.arg(backlogs_from)::timestamptz[]) as backlog_from) u
where k.id = u.id;

-- name: EndShiftsOf :exec
update device_shifts set ended_at = $2 where person_id = $1 and ended_at is null;

-- name: EndShifts :exec
update device_shifts set ended_at = $2 where key_id = $1 and ended_at is null;

-- name: BeginShift :exec
insert into device_shifts (key_id, person_id, began_at) values ($1, $2, $3);

-- name: ShiftsFor :many
-- When people were at work on devices, as far as it may cover something done in the runs: nobody is for more than thirty days.
select key_id, person_id, began_at, ended_at from device_shifts, (select min(started_at) as started_at from runs where runs.id = any(sqlc.arg(runs)::uuid[])) r
where key_id = any(sqlc.arg(devices)::text[]) and person_id = any(sqlc.arg(people)::uuid[])
  and began_at + interval '30 days' + sqlc.arg(slack)::interval >= r.started_at and (ended_at is null or ended_at + 2 * sqlc.arg(slack)::interval >= r.started_at);

-- name: LatestHouseRules :one
select * from house_rules order by version desc limit 1;

-- name: InsertHouseRules :execrows
insert into house_rules (version, data, made_by, reason) values ($1, $2, $3, $4) on conflict do nothing;

-- name: ListHouseRules :many
select * from house_rules order by version desc;

-- name: LibraryInForce :many
select distinct on (shelf, code) * from library_values order by shelf, code, version desc;

-- name: LibraryHistory :many
select * from library_values where shelf = $1 and code = $2 order by version desc;

-- name: InsertLibraryValue :exec
insert into library_values (shelf, code, version, data, withdrawn, made_by, reason) values ($1, $2, $3, $4, $5, $6, $7);

-- name: InsertPlanUse :exec
insert into plan_uses (plan_id, shelf, code, version) values ($1, $2, $3, $4);

-- name: PlansUsing :many
-- The latest plan of each joint, when it was made with this value.
select j.tag, j.name, p.version as plan_version, u.version, (j.present_run is not null)::boolean as begun
from plan_uses u join plans p on p.id = u.plan_id join joints j on j.id = p.joint_id
where u.shelf = $1 and u.code = $2 and p.version = (select max(l.version) from plans l where l.joint_id = p.joint_id and l.way = '')
order by j.tag;

-- name: ChangedSince :many
-- What a plan was made with that has changed since.
select u.shelf, u.code, u.version, v.version as now, v.withdrawn
from plan_uses u join lateral (select l.version, l.withdrawn from library_values l where l.shelf = u.shelf and l.code = u.code order by l.version desc limit 1) v on true
where u.plan_id = $1 and (v.version > u.version)
order by u.shelf, u.code;

-- name: ListTools :many
select * from tools order by tag;

-- name: GetTool :one
select * from tools where tag = $1;

-- name: ToolsByTag :many
select * from tools where tag = any($1::text[]);

-- name: LockTool :one
select * from tools where tag = $1 for update;

-- name: PutTool :exec
insert into tools (tag, data) values ($1, $2) on conflict (tag) do update set data = excluded.data, updated_at = now();

-- name: JointsByTool :many
select distinct j.tag, j.name, max(e.at)::timestamptz as last_used
from events e join runs r on r.id = e.run_id join joints j on j.id = r.joint_id
where string_to_array(e.tools, '+') @> array[sqlc.arg(tag)::text] and e.tools <> '' and e.kind = 'pulled' and e.at >= sqlc.arg(since) group by j.tag, j.name order by last_used desc;

-- name: PutPackage :exec
insert into packages (code, name) values ($1, $2) on conflict (code) do update set name = excluded.name;

-- name: ListPackages :many
select p.code, p.name, coalesce(p.part_of, '') as part_of, (count(j.id) filter (where j.glyph <> 'retired'))::int as joints, (count(j.id) filter (where j.glyph = 'accepted'))::int as accepted
from packages p join package_scope s on s.code = p.code left join joints j on j.package = s.package group by p.code, p.name order by p.code;

-- name: PartsOfPackage :many
select code from packages where part_of = sqlc.arg(package)::text order by code;

-- name: UpdatePackage :execrows
update packages set name = $2, part_of = $3 where code = $1;

-- name: AllJoints :many
select id, tag, name, area, equipment, service, family, package, nameplate, bolts, make, glyph, station, summary, specification_version, updated_at, retired_why from joints order by area, tag;

-- name: GetJoint :one
select * from joints where tag = $1;

-- name: GetJointByID :one
select * from joints where id = $1;

-- name: LockJoint :one
select * from joints where tag = $1 for update;

-- name: InsertJoint :exec
insert into joints (id, tag, name, area, equipment, service, family, package, nameplate) values ($1, $2, $3, $4, $5, $6, $7, $8, $9);

-- name: UpdateJoint :exec
update joints set name = $2, area = $3, equipment = $4, service = $5, package = $6, nameplate = $7, updated_at = now() where id = $1;

-- name: SetJointSpecification :exec
update joints set specification_version = $2, bolts = $3, make = $4, glyph = $5, summary = $6, updated_at = now() where id = $1;

-- name: SetJointStates :exec
-- Writes only what changed: most events leave the line in the list as it is. A summary alone touches no index.
update joints j set glyph = u.glyph, station = u.station, summary = u.summary, present_run = u.present_run,
  updated_at = case when (j.glyph, j.station, j.present_run) is distinct from (u.glyph, u.station, u.present_run) then now() else j.updated_at end
from (select unnest(sqlc.arg(ids)::uuid[]) as id, unnest(sqlc.arg(glyphs)::text[]) as glyph, unnest(sqlc.arg(stations)::text[]) as station, unnest(sqlc.arg(summaries)::text[]) as summary, unnest(sqlc.arg(present_runs)::uuid[]) as present_run) u
where j.id = u.id and (j.glyph, j.station, j.summary, j.present_run) is distinct from (u.glyph, u.station, u.summary, u.present_run);

-- name: InsertSpecification :exec
insert into specifications (joint_id, version, data, made_by, reason) values ($1, $2, $3, $4, $5);

-- name: GetSpecification :one
select * from specifications where joint_id = $1 and version = $2;

-- name: ListSpecifications :many
select * from specifications where joint_id = $1 order by version desc;

-- name: PresentSpecifications :many
select s.joint_id, s.data from specifications s join joints j on j.id = s.joint_id and j.specification_version = s.version;

-- name: InsertPlan :exec
insert into plans (id, joint_id, version, specification_version, house_rules_version, data, made_by, approved_by, reason, procedure_version, way) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11);

-- name: GetPlan :one
select * from plans where id = $1;

-- name: LatestPlan :one
-- The latest by which it is put together.
select * from plans where joint_id = $1 and way = '' order by version desc limit 1;

-- name: LastPlanVersion :one
select coalesce(max(version), 0)::int from plans where joint_id = $1;

-- name: InsertRun :exec
insert into runs (id, joint_id, plan_id, started_by, started_at) values ($1, $2, $3, $4, $5);

-- name: GetRun :one
select * from runs where id = $1;

-- name: RunsOfJoint :many
select * from runs where joint_id = $1 order by started_at desc limit sqlc.arg(n)::int;

-- name: LockRun :one
select * from runs where id = $1 for update;

-- name: LockRuns :many
-- In one order, so that two servers never wait for each other.
select * from runs where id = any($1::uuid[]) order by id for update;

-- name: AdvanceRuns :exec
update runs r set last_seq = u.last_seq, last_hash = u.last_hash, size = u.size
from (select unnest(sqlc.arg(ids)::uuid[]) as id, unnest(sqlc.arg(last_seqs)::int[]) as last_seq, unnest(sqlc.arg(last_hashes)::text[]) as last_hash, unnest(sqlc.arg(sizes)::int[]) as size) u
where r.id = u.id;

-- name: SealRun :exec
update runs set sealed_at = $2 where id = $1;

-- name: OpenRuns :many
select r.id, r.plan_id, r.last_seq, r.last_hash, r.started_at, r.started_by, j.tag, j.name, j.area, j.family, j.bolts, j.glyph from runs r join joints j on j.id = r.joint_id
where r.sealed_at is null order by r.started_at desc, r.id desc;

-- name: RunEvents :many
-- With the head that the run names at the same moment.
select e.seq, e.received_at, e.prev_hash, e.hash, e.body, r.last_seq, r.last_hash from events e join runs r on r.id = e.run_id where e.run_id = $1 order by e.seq;

-- name: EventsByID :many
select id, run_id, seq, body, sent_sha256 from events where id = any($1::uuid[]);

-- name: InsertEvents :exec
insert into events (run_id, seq, id, kind, at, received_at, person_id, tools, body, prev_hash, hash, sent_sha256, device_key, proof)
select unnest(sqlc.arg(run_ids)::uuid[]), unnest(sqlc.arg(seqs)::int[]), unnest(sqlc.arg(ids)::uuid[]), unnest(sqlc.arg(kinds)::text[]), unnest(sqlc.arg(ats)::timestamptz[]),
  unnest(sqlc.arg(received_ats)::timestamptz[]), unnest(sqlc.arg(person_ids)::uuid[]), unnest(sqlc.arg(tools)::text[]), unnest(sqlc.arg(bodies)::text[]),
  unnest(sqlc.arg(prev_hashes)::text[]), unnest(sqlc.arg(hashes)::text[]), unnest(sqlc.arg(sent_sha256s)::text[]), unnest(sqlc.arg(device_keys)::text[]), unnest(sqlc.arg(proofs)::text[]);

-- name: NextRecordNumber :one
select nextval('record_numbers')::bigint;

-- name: SkipRecordNumbers :exec
select setval('record_numbers', sqlc.arg(n)::bigint);

-- name: InsertRecord :exec
insert into records (number, run_id, joint_id, tag, name, area, target, tightened_by, proved_by, sealed_at, mark, file, verdict)
values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13);

-- name: InsertElsewhere :exec
insert into elsewhere_records (mark, site, number, tag, name, target, verdict, sealed_at, key_id, taken_by, taken_at, file)
values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12);

-- name: ListElsewhere :many
select mark, site, number, tag, name, target, verdict, sealed_at, key_id, taken_by, taken_at from elsewhere_records
where (sqlc.arg(q)::text = '' or lower(site || ' ' || number || ' ' || tag || ' ' || name) like '%' || sqlc.arg(q)::text || '%')
order by taken_at desc limit 500;

-- name: EveryElsewhere :many
select mark, site, number, key_id from elsewhere_records order by site, number;

-- name: ElsewhereFile :one
select file from elsewhere_records where mark = $1;

-- name: ElsewhereMark :one
select mark from elsewhere_records where site = $1 and number = $2;

-- name: OldIndex :many
-- Records that are found by rules of an earlier time.
select number from record_index where version < sqlc.arg(version) order by version, number limit sqlc.arg(n)::int;

-- name: NotIndexed :many
select number from records r where not exists (select from record_index i where i.number = r.number) order by number limit 100;

-- name: LockIndex :one
select facets from record_index where number = $1 for update;

-- name: PutIndex :exec
insert into record_index (number, version, sealed_at, search, facets, apart, follows, used_at) values ($1, $2, $3, $4, $5, $6, $7, $8)
on conflict (number) do update set version = excluded.version, search = excluded.search, facets = excluded.facets, apart = excluded.apart,
  follows = excluded.follows, used_at = excluded.used_at;

-- name: DropPulls :exec
delete from record_pulls where number = $1;

-- name: AddPulls :copyfrom
insert into record_pulls (number, quantity, position, fastener, tag, at, tool, method, crew, lubricant, family, area, pct, low, high)
values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15);

-- name: PullsBetween :many
select * from record_pulls where quantity = sqlc.arg(quantity) and at >= sqlc.arg(since) and at < sqlc.arg(before)
  and (cardinality(sqlc.arg(families)::text[]) = 0 or family = any (sqlc.arg(families)::text[]))
order by at limit sqlc.arg(n)::int;

-- name: CountFacets :exec
-- In the order of their names, so that two who count do not wait for each other.
insert into record_facets (facet, total) select f, sqlc.arg(by)::int from (select unnest(sqlc.arg(facets)::text[]) as f order by f) s
on conflict (facet) do update set total = record_facets.total + excluded.total;

-- name: FacetsLike :many
select facet, total from record_facets where facet like sqlc.arg(kind)::text || ':%' and lower(facet) like '%' || sqlc.arg(q)::text || '%' and total > 0
order by total desc, facet limit sqlc.arg(n)::int;

-- name: SavedSearches :many
select name, query from saved_searches where person_id = $1 order by name;

-- name: PutSearch :exec
insert into saved_searches (person_id, name, query, made_at) values ($1, $2, $3, $4)
on conflict (person_id, name) do update set query = excluded.query, made_at = excluded.made_at;

-- name: DropSearch :execrows
delete from saved_searches where person_id = $1 and name = $2;

-- name: CountSearches :one
select count(*)::int from saved_searches where person_id = $1;

-- name: GetRecord :one
select * from records where number = $1;

-- name: RecordOfRun :one
select number from records where run_id = $1;

-- name: ListKeys :many
select * from signing_keys order by made_at, id;

-- name: InsertPhoto :exec
insert into photos (id, run_id, person_id, media_type, bytes, digest, sha256, shown) values ($1, $2, $3, $4, $5, '', $6, $7);

-- name: PhotoThere :one
select run_id, sha256 from photos where id = $1;

-- name: PhotoEvent :one
-- The event of a run that names a picture.
select body from events where run_id = $1 and body like '%' || sqlc.arg(photo)::text || '%' order by seq limit 1;

-- name: PhotoAddition :one
-- What stands behind the record of a run and names a picture.
select a.body from additions a join records r on r.number = a.number
where r.run_id = $1 and a.body like '%' || sqlc.arg(photo)::text || '%' order by a.seq limit 1;

-- name: PhotosOf :many
select id from photos where run_id = $1;

-- name: GetPhoto :one
select * from photos where id = $1;

-- name: GetSetting :one
select value from settings where key = $1;

-- name: PutSetting :exec
insert into settings (key, value) values ($1, $2) on conflict (key) do update set value = excluded.value;

-- name: AreaJoints :many
-- The joints of each area that most want attention, with the area's totals.
select a.area, j.tag, j.name, j.family, j.bolts, j.glyph, j.summary, coalesce(j.package, '') as package, a.total, a.accepted
from (select *, greatest(1, least(sqlc.arg(per_area)::int, sqlc.arg(joints)::int / greatest(1, (count(*) over ())::int))) as most
  from (select * from area_totals order by total - accepted desc, area limit sqlc.arg(areas)::int) busy) a
cross join lateral (
  select b.tag, b.name, b.family, b.bolts, b.glyph, b.summary, b.package from joints b where b.area = a.area and b.glyph <> 'retired'
  order by array_position(array['in_hand', 'stopped', 'turned_down', 'to_prove', 'due_again', 'ready', 'waiting', 'accepted'], b.glyph), b.tag limit a.most
) j order by a.area, array_position(array['in_hand', 'stopped', 'turned_down', 'to_prove', 'due_again', 'ready', 'waiting', 'accepted'], j.glyph), j.tag;

-- name: JointsByGlyph :many
select tag, name, area, family, bolts, glyph, station, summary, updated_at from joints where glyph = sqlc.arg(glyph)::text order by updated_at desc, tag limit sqlc.arg(n)::int;

-- name: JointsToTakeAlong :many
-- Joints by tag, then those of some areas, then others.
select * from joints where retired_why = ''
order by tag = any(sqlc.arg(tags)::text[]) desc, area = any(sqlc.arg(areas)::text[]) desc, area, tag limit sqlc.arg(n)::int;

-- name: TagsAmong :many
select tag from joints where tag = any(sqlc.arg(tags)::text[]) and retired_why = '';

-- name: Areas :many
-- Steps from one area to the next in the index instead of reading every joint.
with recursive a as (
  (select j.area from joints j order by j.area limit 1)
  union all
  select (select j.area from joints j where j.area > a.area order by j.area limit 1) from a where a.area is not null
)
select area::text as area from a where area is not null;

-- name: SetRunPlan :exec
update runs set plan_id = $2 where id = $1;

-- name: RecordsOfJoint :many
select number, tag, name, area, target, tightened_by, proved_by, sealed_at, mark, verdict, (select count(*) from additions a where a.number = records.number)::int as added from records where joint_id = $1 order by sealed_at desc, number desc;

-- name: PackageSpecifications :many
select j.tag, j.family, j.glyph, s.data from joints j join specifications s on s.joint_id = j.id and s.version = j.specification_version where j.package in (select c.package from package_scope c where c.code = sqlc.arg(package)::text) and j.glyph <> 'retired' order by j.tag;

-- name: AddJoints :copyfrom
insert into joints (id, tag, name, area, equipment, service, family, package, nameplate, specification_version, bolts, make, glyph, summary) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14);

-- name: AddSpecifications :copyfrom
insert into specifications (joint_id, version, data, made_by, reason) values ($1, $2, $3, $4, $5);

-- name: InsertToolCheck :exec
insert into tool_checks (id, tag, at, made_by, passed, data, verdict, counts) values ($1, $2, $3, $4, $5, $6, $7, $8);

-- name: InsertToolVersion :exec
insert into tool_versions (tag, version, data, made_by, reason, made_at)
select $1, coalesce(max(version), 0) + 1, $2, $3, $4, $5 from tool_versions where tag = $1;

-- name: ToolVersions :many
select * from tool_versions where tag = $1 order by version desc limit 200;

-- name: ToolChecks :many
select * from tool_checks where tag = $1 order by at desc limit 30;

-- name: LastGoodCheck :one
select coalesce(max(at), 'epoch')::timestamptz as at from tool_checks where tag = $1 and passed and counts;

-- name: RaiseDoubts :execrows
-- Every joint that the tool pulled since the evidence, unless it is in doubt for this tool already.
insert into doubts (id, tag, joint_id, reason, last_used, raised_by, raised_at)
select gen_random_uuid(), $1, r.joint_id, $2, max(e.at), $3, $4
from events e join runs r on r.id = e.run_id
where string_to_array(e.tools, '+') @> array[$1::text] and e.tools <> '' and e.kind = 'pulled' and e.at >= $5 group by r.joint_id
on conflict do nothing;

-- name: DoubtsOfTool :many
select d.*, j.tag as joint_tag, j.name as joint_name from doubts d join joints j on j.id = d.joint_id where d.tag = $1 order by d.closed_at is not null, j.tag;

-- name: OpenDoubtsOfJoint :many
select d.*, j.tag as joint_tag, j.name as joint_name from doubts d join joints j on j.id = d.joint_id where d.joint_id = $1 and d.closed_at is null order by d.tag;

-- name: DoubtsOfJoint :many
select * from doubts where joint_id = $1 order by raised_at;

-- name: CloseDoubt :execrows
update doubts set closed_by = $2, closed_at = $3, how = $4 where id = $1 and closed_at is null;

-- name: CloseDoubtsOfTool :exec
update doubts set closed_by = $2, closed_at = $3, how = $4 where tag = $1 and closed_at is null;

-- name: GetDoubt :one
select * from doubts where id = $1;

-- name: OpenLoans :many
select * from tool_loans where back_at is null;

-- name: LoansOfTool :many
select * from tool_loans where tag = $1 order by out_at desc limit 20;

-- name: InsertLoan :exec
insert into tool_loans (id, tag, person, place, out_at) values ($1, $2, $3, $4, $5);

-- name: ReturnLoan :execrows
update tool_loans set back_by = $2, back_at = $3, care = $4 where tag = $1 and back_at is null;

-- name: CountPulls :one
select count(*)::int from events e where string_to_array(e.tools, '+') @> array[sqlc.arg(tag)::text] and e.tools <> '' and e.kind = 'pulled' and e.at >= sqlc.arg(since);

-- name: OpenRunsWithTool :many
-- The runs that are not sealed in which a tool was taken.
select r.id from runs r where r.sealed_at is null and exists (select from events e where e.run_id = r.id and string_to_array(e.tools, '+') @> array[sqlc.arg(tag)::text])
order by r.id;

-- name: InsertPlanTool :exec
insert into plan_tools (plan_id, tag) values ($1, $2) on conflict do nothing;

-- name: ToolsInWork :many
-- Which tools the plans of the runs that are not sealed count on.
select t.tag, j.tag as joint from plan_tools t join runs r on r.plan_id = t.plan_id join joints j on j.id = r.joint_id where r.sealed_at is null order by t.tag, j.tag;

-- name: InsertToolFile :exec
insert into tool_files (id, tag, kind, name, media_type, bytes, digest, added_by) values ($1, $2, $3, $4, $5, $6, $7, $8) on conflict do nothing;

-- name: GetToolFile :one
select * from tool_files where id = $1;

-- name: FilesOfTool :many
select id, kind, name, media_type, added_by, at from tool_files where tag = $1 order by at desc;

-- name: OpenDoubts :many
select d.*, j.tag as joint_tag, j.name as joint_name from doubts d join joints j on j.id = d.joint_id where d.closed_at is null order by d.due_on nulls first, j.tag;

-- name: PlanDoubt :execrows
update doubts set due_on = $2, assigned_to = $3 where id = $1 and closed_at is null;

-- name: PutDevice :exec
insert into devices (tag, token_hash, made_by) values ($1, $2, $3) on conflict (tag) do update set token_hash = excluded.token_hash, made_by = excluded.made_by, made_at = now();

-- name: GetDevice :one
select * from devices where tag = $1;

-- name: ListDevices :many
select tag, last_seq, linked_at, about from devices order by tag;

-- name: LinkDevice :exec
update devices set linked_at = now(), about = $2 where tag = $1;

-- name: LockDevice :one
select * from devices where tag = $1 for update;

-- name: AdvanceDevice :exec
update devices set last_seq = $2 where tag = $1;

-- name: InsertDeviceResult :exec
insert into device_results (tag, seq, at, body) values ($1, $2, $3, $4);

-- name: GetDeviceResult :one
select body from device_results where tag = $1 and seq = $2;

-- name: DeviceResultsAfter :many
select * from device_results where tag = $1 and seq > $2 order by seq limit 100;

-- name: ProcedureInForce :one
select * from procedures where code = $1 and approved_at is not null order by version desc limit 1;

-- name: ListProcedures :many
select code, version, name, made_by, reason, made_at, approved_by, approved_at from procedures order by code, version desc;

-- name: GetProcedure :one
select * from procedures where code = $1 and version = $2;

-- name: LatestProcedure :one
select coalesce(max(version), 0)::int from procedures where code = $1;

-- name: InsertProcedure :execrows
insert into procedures (code, version, name, yaml, data, made_by, made_by_id, reason) values ($1, $2, $3, $4, $5, $6, $7, $8) on conflict do nothing;

-- name: ApproveProcedure :execrows
update procedures set approved_by = $3, approved_by_id = $4, approved_at = now() where code = $1 and version = $2 and approved_at is null;

-- name: JointsOfFamily :many
select tag, name, glyph, bolts from joints where family = $1 order by tag limit 200;

-- name: Audit :exec
select audit(sqlc.arg(action)::text, sqlc.arg(subject)::text, sqlc.arg(before)::text, sqlc.arg(after)::text);

-- name: AuditPage :many
select * from audit_log where (sqlc.arg(below)::bigint = 0 or id < sqlc.arg(below)::bigint)
  and (sqlc.arg(q)::text = '' or lower(who || ' ' || action || ' ' || subject || ' ' || before || ' ' || after) like '%' || sqlc.arg(q)::text || '%')
order by id desc limit sqlc.arg(n)::int;

-- name: AuditStretch :many
select * from audit_log where id > sqlc.arg(after) and id <= sqlc.arg(upto) order by id;

-- name: AuditSettled :one
-- The last line that no transaction still under way can come before.
select coalesce(max(id), 0)::bigint from audit_log where at < sqlc.arg(before)::timestamptz;

-- name: LockAnchors :exec
select pg_advisory_xact_lock(7314161);

-- name: LastAnchor :one
select * from anchors order by number desc limit 1;

-- name: ListAnchors :many
select * from anchors order by number desc limit sqlc.arg(n)::int;

-- name: GetAnchor :one
select * from anchors where number = $1;

-- name: AnchorsInOrder :many
select * from anchors order by number;

-- name: LeavesOf :many
select kind, id, seq, hash from anchor_leaves where anchor = $1 order by kind collate "C", id collate "C";

-- name: NewRunHeads :many
select r.id::text as id, r.last_seq, r.last_hash from runs r where r.last_seq > 0
  and not exists (select from anchor_leaves l where l.kind = 'run' and l.id = r.id::text and l.seq = r.last_seq and l.hash = r.last_hash);

-- name: NewRecordMarks :many
select r.number, r.mark from records r where not exists (select from anchor_leaves l where l.kind = 'record' and l.id = r.number);

-- name: NewAdditionHashes :many
select a.number, a.seq, a.hash from additions a
where not exists (select from anchor_leaves l where l.kind = 'addition' and l.id = a.number || '/' || a.seq);

-- name: LastAuditLeaf :one
select coalesce(max(seq), 0)::int from anchor_leaves where kind = 'audit';

-- name: InsertAnchor :exec
insert into anchors (number, at, hash, body, signature) values ($1, $2, $3, $4, $5);

-- name: AddAnchorLeaves :copyfrom
insert into anchor_leaves (anchor, kind, id, seq, hash) values ($1, $2, $3, $4, $5);

-- name: EveryRun :many
select id, last_seq, last_hash, sealed_at from runs order by id;

-- name: EveryRecord :many
select number, run_id, mark from records order by number;

-- name: RunEventsWhole :many
select e.*, k.public_key as device_public from events e left join device_keys k on k.id = e.device_key where e.run_id = $1 order by e.seq;

-- name: EveryPhoto :many
select id from photos order by id;

-- name: ListAreas :many
select name, place, drawing from areas order by place, name;

-- name: PutArea :exec
insert into areas (name, place, drawing) values ($1, $2, $3) on conflict (name) do update set place = excluded.place, drawing = excluded.drawing;

-- name: DropAreas :exec
delete from areas where not name = any(sqlc.arg(keep)::text[]);

-- name: RenameArea :execrows
update joints set area = sqlc.arg(is_now), updated_at = now() where area = sqlc.arg(was);

-- name: AreaTotals :many
select area, total from area_totals order by area;

-- name: SiteCounts :one
select (select count(*) from people where active)::int as people, (select count(*) from tools)::int as tools,
  (select count(*) from (select 1 from joints limit 1000) j)::int as joints, (select count(*) from (select 1 from records limit 1000) r)::int as records;

-- name: GivePINOnce :exec
update people set pin_hash = $2, pin_version = pin_version + 1, pin_set_at = $3, pin_once_until = $4 where id = $1;

-- name: ListTraining :many
select person_id, about, code, until, note from training order by person_id, about, code;

-- name: PutTraining :exec
insert into training (person_id, about, code, until, note) values ($1, $2, $3, $4, $5) on conflict (person_id, about, code) do update set until = excluded.until, note = excluded.note;

-- name: DropTraining :exec
delete from training where person_id = $1 and about = $2 and code = $3;

-- name: LockPeople :exec
select pg_advisory_xact_lock(hashtext('dynacor first day'));

-- name: RetireJoint :exec
update joints set retired_from = glyph, glyph = 'retired', retired_why = $2, updated_at = now() where id = $1;

-- name: RestoreJoint :exec
update joints set glyph = retired_from, retired_from = '', retired_why = '', updated_at = now() where id = $1;

-- name: AuditOf :many
-- What befell one thing, the newest first.
select * from audit_log where subject = sqlc.arg(subject)::text order by id desc limit sqlc.arg(n)::int;

-- name: InsertImport :exec
insert into imports (id, made_by, made_at, added, changed) values ($1, $2, $3, $4, $5);

-- name: AddImportLines :copyfrom
insert into import_lines (import_id, joint_id, does, before, after, specification_before, specification_after) values ($1, $2, $3, $4, $5, $6, $7);

-- name: ListImports :many
select * from imports order by made_at desc limit 20;

-- name: LockImport :one
select * from imports where id = $1 for update;

-- name: MarkImportUndone :exec
update imports set undone_by = $2, undone_at = now() where id = $1;

-- name: LockImportJoints :exec
-- In one order; nothing is begun on them or changed of them until the undoing is done.
select id from joints where id in (select l.joint_id from import_lines l where l.import_id = $1) order by id for update;

-- name: ImportLines :many
-- With how each joint stands now.
select l.*, j.tag, j.name, j.area, j.equipment, j.service, j.package, j.nameplate, j.specification_version, j.glyph, j.present_run, coalesce(r.started_at, 'epoch')::timestamptz as run_at
from import_lines l join joints j on j.id = l.joint_id left join runs r on r.id = j.present_run where l.import_id = $1 order by j.tag;

-- name: ListBackups :many
select * from backups order by at desc limit 60;

-- name: ListDeviceKeys :many
-- With who was last at work on each.
select k.id, k.name, k.made_at, k.spoke_at, k.backlog, k.shut_at, coalesce(s.name, '')::text as person, (coalesce(s.at_work, false))::bool as at_work
from device_keys k left join lateral (select p.name, w.ended_at is null as at_work from device_shifts w join people p on p.id = w.person_id where w.key_id = k.id order by w.began_at desc limit 1) s on true
order by k.spoke_at desc limit 200;

-- name: NameDevice :execrows
update device_keys set name = $2 where id = $1;

-- name: ShutDevice :execrows
update device_keys set shut_at = sqlc.narg(shut_at) where id = sqlc.arg(id);

-- name: EndLoginsOn :many
update logins set ended_at = $2, ended_why = $3 where device_key = $1 and ended_at is null returning id;

-- name: AdditionsOf :many
select a.*, k.public_key from additions a join signing_keys k on k.id = a.key_id where a.number = $1 order by a.seq;

-- name: WalkedSince :many
-- The joints behind whose records stands that somebody walked to them since a time; began is a pattern. What was signed
-- later counts from when it was seen.
select distinct r.tag from additions a join records r on r.number = a.number
where a.at >= sqlc.arg(since) and coalesce((a.body::jsonb ->> 'seenAt')::timestamptz, a.at) >= sqlc.arg(since) and a.kind in ('recheck', 'finding') and a.body::jsonb ->> 'what' like sqlc.arg(began)::text;

-- name: InsertAddition :exec
insert into additions (number, seq, at, kind, person_id, hash, body, signature, key_id) values ($1, $2, $3, $4, $5, $6, $7, $8, $9);

-- name: InsertPlantNote :exec
insert into plant_notes (id, tag, words, seen_at, at, person_id, photo, photo_sha256)
values ($1, $2, $3, $4, $5, $6, $7, $8) on conflict (id) do nothing;

-- name: PlantNotes :many
-- Those that are open, then those closed since a time; the newest first.
select n.id, n.tag, n.words, n.seen_at, n.at, n.person_id, p.name as person, n.photo, (n.shown is not null)::bool as pictured,
  n.closed_words, n.closed_by, n.closed_at
from plant_notes n join people p on p.id = n.person_id
where n.closed_at is null or n.closed_at >= sqlc.arg(since)
order by n.closed_at is not null, n.at desc, n.id limit sqlc.arg(n)::int;

-- name: GetPlantNote :one
select * from plant_notes where id = $1;

-- name: PicturePlantNote :exec
update plant_notes set picture = $2, shown = $3 where id = $1;

-- name: ClosePlantNote :execrows
update plant_notes set closed_words = $2, closed_by = $3, closed_at = $4 where id = $1;

-- name: LockAdditions :exec
select pg_advisory_xact_lock(hashtextextended('additions ' || sqlc.arg(number)::text, 0));

-- name: PressureTests :many
-- The last version of each test, those that last first.
select s.*, coalesce(x.verdict, '')::text as verdict, coalesce(x.says, '')::text as says, coalesce(x.mark, '')::text as mark, x.sealed_at,
  (select count(*) from pressure_test_events e where e.tag = s.tag)::int as events
from (select distinct on (tag) * from pressure_test_specs order by tag, version desc) s
left join pressure_test_sheets x on x.tag = s.tag
where sqlc.arg(joint)::text = '' or s.spec::jsonb->'joints' ? sqlc.arg(joint)
order by x.sealed_at is not null, x.sealed_at desc, s.at desc, s.tag limit 500;

-- name: PressureTestSpec :one
select * from pressure_test_specs where tag = $1 order by version desc limit 1;

-- name: PressureTestEvents :many
select * from pressure_test_events where tag = $1 order by seq;

-- name: PressureTestSheet :one
select * from pressure_test_sheets where tag = $1;

-- name: EveryPressureTestSheet :many
select tag, file from pressure_test_sheets order by tag;

-- name: LockPressureTest :exec
select pg_advisory_xact_lock(hashtextextended('pressure test ' || sqlc.arg(tag)::text, 0));

-- name: InsertPressureTestSpec :exec
insert into pressure_test_specs (tag, version, at, by_name, withdrawn, spec) values ($1, $2, $3, $4, $5, $6);

-- name: InsertPressureTestEvent :exec
insert into pressure_test_events (tag, seq, id, at, person_id, body) values ($1, $2, $3, $4, $5, $6);

-- name: InsertPressureTestSheet :exec
insert into pressure_test_sheets (tag, mark, verdict, says, sealed_at, key_id, file) values ($1, $2, $3, $4, $5, $6, $7);

-- name: NewPressureTestMarks :many
select t.tag, t.mark from pressure_test_sheets t where not exists (select from anchor_leaves l where l.kind = 'test' and l.id = t.tag);

-- name: LastRecordOf :one
select number from records where joint_id = $1 order by sealed_at desc, number desc limit 1;

-- name: RetorquesDue :many
-- Joints as they were sealed between two times, of which no nut was tried again since; those sealed first first.
select j.tag, j.name, j.family, j.bolts, j.glyph, r.number, r.sealed_at from records r
join joints j on j.id = r.joint_id and j.present_run = r.run_id and j.glyph = 'accepted' and j.retired_why = ''
where r.verdict = 'accepted' and r.sealed_at >= sqlc.arg(earliest) and r.sealed_at <= sqlc.arg(latest)
  and not exists (select from additions a where a.number = r.number and a.kind = 'retorque')
order by r.sealed_at, r.number limit sqlc.arg(n)::int;

-- name: HeatChecksDue :many
-- Joints in service that went warm and cold again, and were not looked at, tried or tightened anew since. What was seen
-- without signal and signed later counts from when it was seen.
select j.tag, j.name, r.number, max(a.at)::timestamptz as at from records r
join joints j on j.id = r.joint_id and j.present_run = r.run_id and j.retired_why = ''
join additions a on a.number = r.number and a.kind = 'heat' and a.at >= sqlc.arg(earliest)
where not exists (select from additions b where b.number = r.number and b.seq > a.seq and b.kind in ('recheck', 'retorque', 'audit')
  and coalesce((b.body::jsonb ->> 'seenAt')::timestamptz, b.at) >= a.at)
group by j.tag, j.name, r.number order by max(a.at), r.number limit sqlc.arg(n)::int;

-- name: RetestsDue :many
-- Tests that held, sealed between two times, of which no later one covers the same joints and held.
select s.tag, s.spec, x.sealed_at from pressure_test_sheets x
join (select distinct on (tag) * from pressure_test_specs order by tag, version desc) s on s.tag = x.tag
where x.verdict = 'held' and x.sealed_at >= sqlc.arg(earliest) and x.sealed_at <= sqlc.arg(latest)
  and not exists (select from pressure_test_sheets y
    join (select distinct on (tag) * from pressure_test_specs order by tag, version desc) z on z.tag = y.tag
    where y.verdict = 'held' and y.sealed_at > x.sealed_at and z.spec::jsonb->'joints' @> (s.spec::jsonb->'joints'))
order by x.sealed_at, s.tag limit sqlc.arg(n)::int;

-- name: GetPackage :one
select * from packages where code = $1;

-- name: PackageJoints :many
-- Those in service, with whether a run is open at each.
select j.tag, j.name, j.family, j.bolts, j.glyph, j.summary, j.area, j.present_run, (r.id is not null)::bool as under_way
from joints j left join runs r on r.id = j.present_run and r.sealed_at is null and r.last_seq > 0
where j.package in (select s.package from package_scope s where s.code = sqlc.arg(package)::text) and j.glyph <> 'retired' order by j.tag limit sqlc.arg(n)::int;

-- name: PackageRecords :many
-- The records of its joints, in order of sealing, with what they are found by.
select r.number, j.tag, r.mark, r.verdict, r.sealed_at, (select count(*) from additions a where a.number = r.number)::int as added,
  i.facets, i.apart, i.follows, i.used_at, (i.version < sqlc.arg(version)::int)::bool as old
from records r join joints j on j.id = r.joint_id join record_index i on i.number = r.number
where j.package in (select s.package from package_scope s where s.code = sqlc.arg(package)::text) and j.glyph <> 'retired' order by r.sealed_at, r.number;

-- name: PackageTests :many
-- Tests under pressure that cover one of its joints and are to be done, or are.
select s.tag, s.spec, coalesce(x.verdict, '')::text as verdict, coalesce(x.mark, '')::text as mark
from (select distinct on (tag) * from pressure_test_specs order by tag, version desc) s left join pressure_test_sheets x on x.tag = s.tag
where s.withdrawn = '' and s.spec::jsonb->'joints' ?| sqlc.arg(joints)::text[] order by s.tag;

-- name: InsertDossier :exec
insert into dossiers (id, package, sheet, state, begun_at, by_id, by_name, book) values ($1, $2, $3, 'making', $4, $5, $6, $7);

-- name: GetDossier :one
select id, package, sheet, state, begun_at, by_id, by_name, book, leaves, failed, bound_at, size, mark, files_index from dossiers where id = $1;

-- name: DossierFile :one
select file from dossiers where id = $1 and state = 'bound';

-- name: LastDossier :one
-- The one that is being made, or the last one.
select id from dossiers where package = $1 order by state = 'making' desc, begun_at desc limit 1;

-- name: BoundDossiers :many
select id, package, sheet, begun_at, by_name, bound_at, size, mark, book from dossiers where package = $1 and state = 'bound' order by sheet desc limit 50;

-- name: LastSheet :one
select coalesce(max(sheet), 0)::int from dossiers where package = $1 and state = 'bound';

-- name: DossiersBeingMade :many
select id, package, leaves, book, by_id from dossiers where state = 'making' order by begun_at;

-- name: DossierDrawn :execrows
update dossiers set leaves = $2 where id = $1 and state = 'making';

-- name: EndDossier :execrows
update dossiers set state = sqlc.arg(state), failed = sqlc.arg(failed) where id = sqlc.arg(id) and state = 'making';

-- name: BindDossier :execrows
update dossiers set state = 'bound', bound_at = $2, size = $3, mark = $4, file = $5, files_index = $6, leaves = $7 where id = $1 and state = 'making';

-- name: GetGathering :one
select leaves, told, file from dossier_gatherings where key = $1;

-- name: PutGathering :exec
insert into dossier_gatherings (key, dossier, package, made_at, leaves, told, file) values ($1, $2, $3, $4, $5, $6, $7) on conflict (key) do nothing;

-- name: DropGatherings :exec
delete from dossier_gatherings where made_at < sqlc.arg(before) or package = sqlc.arg(package)::text;

-- name: TryDossierLock :one
select pg_try_advisory_lock(hashtextextended('dossier ' || sqlc.arg(id)::text, 0));

-- name: PullsOfRecords :many
select * from record_pulls where number = any (sqlc.arg(numbers)::text[]) and quantity = sqlc.arg(quantity) order by at;

-- name: EveryBook :many
select id, package, sheet, mark, files_index from dossiers where state = 'bound' order by package, sheet;

-- name: PresentRecords :many
-- The record of the present state of each joint of a package in service, or of every joint when none is named.
select r.number from joints j join records r on r.run_id = j.present_run
where (sqlc.arg(package)::text = '' or j.package in (select s.package from package_scope s where s.code = sqlc.arg(package)::text)) and j.glyph <> 'retired' order by j.tag limit sqlc.arg(n)::int;

-- name: InsertAsk :exec
insert into asks (id, package, person_id, person_name, by_name, at, gaps) values ($1, $2, $3, $4, $5, $6, $7);

-- name: LockPackage :exec
select code from packages where code = $1 for update;

-- name: PackageAsks :many
select person_id, person_name, by_name, at, gaps from asks where package = $1 order by at desc limit 500;

-- name: AsksOf :many
-- What somebody was asked for and has not put aside; the newest of each package. A joint that is accepted since is no gap.
select a.id, a.package, a.by_name, a.at, a.gaps,
  array(select j.tag from joints j join records r on r.run_id = j.present_run
    where j.package in (select s.package from package_scope s where s.code = a.package) and j.glyph = 'accepted')::text[] as done
from (select distinct on (package) * from asks where person_id = sqlc.arg(person) and seen_at is null order by package, at desc) a
order by a.at desc limit 5;

-- name: SeenAsk :execrows
-- Puts aside what somebody was asked for a package, this time and before.
update asks set seen_at = sqlc.arg(at)::timestamptz from asks one where one.id = sqlc.arg(id) and asks.person_id = one.person_id
  and asks.package = one.package and asks.at <= one.at and asks.seen_at is null and one.person_id = sqlc.arg(person);

-- name: ShiftPlanInForce :one
select * from shift_plans where package = $1 order by version desc limit 1;

-- name: ShiftPlanAt :one
select plan from shift_plans where package = $1 and version = $2;

-- name: InsertShiftPlan :exec
insert into shift_plans (package, version, made_by, made_at, ends_at, ask, plan) values ($1, $2, $3, $4, $5, $6, $7);

-- name: ShiftPlansRunning :many
-- Which plan is in force of each package whose last shift is not over, the one made last first.
select p.* from (select distinct on (package) package, version, made_at, ends_at from shift_plans order by package, version desc) p
where p.ends_at > sqlc.arg(now)::timestamptz order by p.made_at desc limit 20;

-- name: AcceptedOf :many
select tag from joints where tag = any (sqlc.arg(tags)::text[]) and glyph = 'accepted';

-- name: ConstraintsInForce :one
select * from package_constraints where package = $1 order by version desc limit 1;

-- name: ConstraintsAt :one
select * from package_constraints where package = $1 and version = $2;

-- name: InsertConstraints :exec
insert into package_constraints (package, version, alike, made_by, made_at, data) values ($1, $2, $3, $4, $5, $6);

-- name: SetEmail :exec
update people set email = $2 where id = $1;

-- name: InsertFeed :exec
insert into feeds (id, token_hash, person_id, made_by, made_at) values ($1, $2, $3, $4, $5);

-- name: FeedsOf :many
-- Those of a person, and those of the site.
select id, person_id, made_by, made_at, read_at from feeds
where withdrawn_at is null and (person_id = sqlc.arg(person)::uuid or person_id is null) order by made_at, id;

-- name: FeedByToken :one
select * from feeds where token_hash = $1 and withdrawn_at is null;

-- name: FeedRead :exec
update feeds set read_at = $2 where id = $1;

-- name: WithdrawFeed :execrows
-- One's own; that of the site when one may.
update feeds set withdrawn_at = sqlc.arg(at)::timestamptz
where id = sqlc.arg(id) and withdrawn_at is null and (person_id = sqlc.arg(person)::uuid or person_id is null and sqlc.arg(site)::bool);

-- name: WithMail :many
select id, name, role, email from people where active and email <> '' order by name;

-- name: AskReminder :execrows
insert into reminders (day, person_id, asked_at) values ($1, $2, $3) on conflict do nothing;

-- name: ReminderSent :exec
update reminders set sent_at = $3, nothing = $4 where day = $1 and person_id = $2;

-- name: InsertHandover :exec
insert into handovers (id, from_at, to_at, made_by, made_by_id, note, words) values ($1, $2, $3, $4, $5, $6, $7);

-- name: Handovers :many
select * from handovers order by to_at desc, id desc limit sqlc.arg(n)::int;

-- name: Handover :one
select * from handovers where id = $1;

-- name: TakeHandover :execrows
update handovers set taken_by = $2, taken_by_id = $3, taken_at = $4, confirmed = $5 where id = $1 and taken_at is null;

-- name: SealedSince :many
select r.number, j.tag, j.name, r.verdict from records r join joints j on j.id = r.joint_id
where r.sealed_at > sqlc.arg(since)::timestamptz order by r.sealed_at limit 100;

-- name: SealedOfPackage :many
-- When each accepted joint of a work package was sealed, by its latest record.
select j.tag, j.area, j.glyph, coalesce(max(r.sealed_at), 'epoch')::timestamptz as sealed_at from joints j left join records r on r.joint_id = j.id and r.verdict = 'accepted'
where j.package in (select s.package from package_scope s where s.code = sqlc.arg(package)::text) and j.glyph <> 'retired' group by j.tag, j.area, j.glyph order by j.area, j.tag limit sqlc.arg(n)::int;

-- name: ListStock :many
select * from stock order by kind, what, use_by nulls last, place, id limit 5000;

-- name: PutStock :exec
insert into stock (id, kind, what, quantity, place, use_by, changed_by, changed_at) values ($1, $2, $3, $4, $5, $6, $7, $8)
on conflict (id) do update set kind = excluded.kind, what = excluded.what, quantity = excluded.quantity, place = excluded.place,
  use_by = excluded.use_by, changed_by = excluded.changed_by, changed_at = excluded.changed_at;

-- name: DropStock :execrows
delete from stock where id = $1;

-- name: PacesOfFamily :many
-- How long what was done at the latest finished joints of a family took, seconds each, without the longer pauses, by what
-- it was: answers to checks, pulls, pulls of a check round. The oldest first.
select p.number, p.method::text as method, avg(p.gap)::float8 as gap from (
  select r.number, r.sealed_at,
    case when e.kind = 'check_answered' then 'checks' when e.body::jsonb ? 'moved' then 'rounds' else 'pulls' end as method, e.kind,
    extract(epoch from e.at - lag(e.at) over (partition by e.run_id order by e.seq))::float8 as gap
  from events e join (
    select x.number, x.run_id, x.sealed_at from records x join joints j on j.id = x.joint_id where j.family = sqlc.arg(family)::text order by x.sealed_at desc limit sqlc.arg(n)::int
  ) r on r.run_id = e.run_id
) p where p.kind in ('check_answered', 'pulled') and p.gap > 0 and p.gap <= sqlc.arg(pause)::float8
group by p.number, p.method having count(*) >= 3 order by max(p.sealed_at), p.number, p.method;

-- name: InsertLabFit :exec
insert into lab_fits (id, joint_id, fitted, reason, made_by, made_at) values ($1, $2, $3, $4, $5, $6);

-- name: LastLabFit :one
select * from lab_fits where joint_id = $1 order by made_at desc, id desc limit 1;
