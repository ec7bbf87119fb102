package app_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/record"
	"dynacor/internal/app"
)

// manyRecords are made-up lines beside the ones of the demo: ten years of a large site, in the proportions of one. What
// they were made from is not there.
const manyRecords = `with made as (
  select i, 'TS-' || (2016 + i / 50000) || '-' || lpad(i::text, 6, '0') as number,
    'Z-' || lpad((i % 60000)::text, 5, '0') as tag, 'Joint ' || i % 60000 as name, 'Area ' || i % 40 as area, 'Hand ' || i % 97 as hand, 'Eye ' || i % 11 as eye,
    timestamptz '2016-01-01' + i * interval '10 minutes' as at
  from generate_series(1, 500000) i
), kept as (
  insert into records (number, run_id, joint_id, tag, name, area, target, tightened_by, proved_by, sealed_at, mark, file,
    verdict)
  select number, gen_random_uuid(), gen_random_uuid(), tag, name, area, '300 N·m', hand, eye, at, md5(number), '',
    'accepted' from made
)
insert into record_index (number, version, sealed_at, search, facets)
select number, (select max(version) from record_index), at, lower(number || ' ' || tag || ' ' || name || ' ' || area || ' ' || hand || ' ' || eye),
  array['area:' || area, 'batch:B' || i / 400, 'document:D-' || i % 900, 'family:gasketed flange', 'gasket:G-' || i % 60,
    'lubricant:L-' || i % 7, 'person:' || hand, 'person:' || eye, 'tool:W-' || i % 300, 'verdict:accepted'] ||
  case when i % 50 = 0 then array['finding:out of order'] else '{}' end
from made`

// The aim is 50 ms for any search of half a million records. The yardstick is a row by its key.
func BenchmarkRecords(b *testing.B) {
	a, _, _ := durable(b)
	asOwner("set session_replication_role = replica", manyRecords,
		`insert into record_facets select unnest(facets), count(*) from record_index group by 1
		on conflict (facet) do update set total = excluded.total`)
	settle()
	search := func(s app.RecordSearch, facets ...string) app.RecordSearch {
		out, err := app.Search(s, facets)
		require.NoError(b, err)
		out.Limit = 100
		return out
	}
	for name, s := range map[string]app.RecordSearch{
		"all of them":              search(app.RecordSearch{}),
		"a tag":                    search(app.RecordSearch{Text: "z-01234"}),
		"a word of many":           search(app.RecordSearch{Text: "joint"}),
		"two words":                search(app.RecordSearch{Text: "hand 12 area"}),
		"a word that is not there": search(app.RecordSearch{Text: "nowhere"}),
		"a tool":                   search(app.RecordSearch{}, "tool:W-36"),
		"a batch":                  search(app.RecordSearch{}, "batch:B77"),
		"a finding by a person":    search(app.RecordSearch{}, "finding:out of order", "person:Hand 12"),
		"two that are never met":   search(app.RecordSearch{}, "gasket:G-1", "lubricant:L-1", "tool:W-2"),
		"a year of an area": search(app.RecordSearch{From: time.Date(2018, 1, 1, 0, 0, 0, 0, time.UTC),
			To: time.Date(2019, 1, 1, 0, 0, 0, 0, time.UTC)}, "area:Area 7"),
	} {
		b.Run(fmt.Sprintf("500 000 records, find %s", name), func(b *testing.B) {
			for b.Loop() {
				if _, err := a.Records(ctx, s); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
	b.Run("500 000 records, what there is to choose", func(b *testing.B) {
		for b.Loop() {
			if _, err := a.RecordFacets(ctx, record.FacetTool, "w-3"); err != nil {
				b.Fatal(err)
			}
		}
	})
	b.Run("yardstick: a row by its key", func(b *testing.B) {
		for b.Loop() {
			if _, err := a.Setting(ctx, app.SettingSite, ""); err != nil {
				b.Fatal(err)
			}
		}
	})
}
