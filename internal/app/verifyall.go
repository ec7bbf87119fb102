package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"runtime"
	"slices"

	"golang.org/x/sync/errgroup"

	"dynacor/core/pressuretest"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/identity"
	"dynacor/internal/store"
)

// Held is the result of looking through everything that is kept.
type Held struct {
	Runs, Events, Records, Additions, Elsewhere, Tests, Books, Photos, Anchors int
	Problems                                                                   []string
}

func (h *Held) bad(format string, args ...any) {
	h.Problems = append(h.Problems, fmt.Sprintf(format, args...))
}

// VerifyAll looks through everything that is kept, run by run: every chain, every record, every picture, what devices
// signed, every anchor and every head that one holds. outside are anchors that were kept elsewhere, by number: their
// hashes must be those kept here.
func (a *App) VerifyAll(ctx context.Context, outside map[int]string) (Held, error) {
	var h Held
	keys, err := a.Keys(ctx)
	if err != nil {
		return h, err
	}
	heads := map[string][]string{} // hashes of every entry by run, for the anchors
	runs, err := a.q.EveryRun(ctx)
	if err != nil {
		return h, err
	}
	err = inOrder(ctx, runs, a.verifyRun, func(r store.EveryRunRow, v verifiedRun) {
		h.Runs++
		h.Events += len(v.hashes)
		h.Problems = append(h.Problems, v.problems...)
		heads[r.ID.String()] = v.hashes
	})
	if err != nil {
		return h, err
	}
	marks := map[string]string{}
	records, err := a.q.EveryRecord(ctx)
	if err != nil {
		return h, err
	}
	err = inOrder(ctx, records, func(ctx context.Context, r store.EveryRecordRow) (verifiedRecord, error) {
		return a.verifyRecord(ctx, r.Number, keys)
	}, func(r store.EveryRecordRow, v verifiedRecord) {
		h.Records++
		for _, p := range v.report.Problems {
			h.bad("record %s: %s", r.Number, p)
		}
		h.additions(r.Number, v.added, marks)
		if v.report.Number != r.Number || v.report.Mark != r.Mark {
			h.bad("record %s: the row names another number or mark than the sealed file", r.Number)
		}
		marks[r.Number] = v.report.Mark
	})
	if err != nil {
		return h, err
	}
	hidden, err := a.q.NotIndexed(ctx)
	if err != nil {
		return h, err
	}
	for _, n := range hidden {
		h.bad("record %s is kept, and is not among those that are searched", n)
	}
	if err := a.verifyElsewhere(ctx, &h); err != nil {
		return h, err
	}
	if err := a.verifyTests(ctx, &h, keys, marks); err != nil {
		return h, err
	}
	if err := a.verifyBooks(ctx, &h, keys); err != nil {
		return h, err
	}
	if err := a.verifyPhotos(ctx, &h); err != nil {
		return h, err
	}
	return h, a.verifyAnchors(ctx, &h, keys, heads, marks, outside)
}

// inOrder does the work of each of a list on every core, a stretch at a time, and takes the results in the order of the
// list: what is found is told in the same order whenever it is looked for.
func inOrder[T, R any](ctx context.Context, list []T, work func(context.Context, T) (R, error), take func(T, R)) error {
	const stretch = 256
	results := make([]R, stretch)
	for part := range slices.Chunk(list, stretch) {
		g, ctx := errgroup.WithContext(ctx)
		g.SetLimit(runtime.GOMAXPROCS(0))
		for i, x := range part {
			g.Go(func() (err error) {
				results[i], err = work(ctx, x)
				return err
			})
		}
		if err := g.Wait(); err != nil {
			return err
		}
		for i, x := range part {
			take(x, results[i])
		}
	}
	return nil
}

type verifiedRecord struct {
	report record.Report
	added  []store.AdditionsOfRow
}

func (a *App) verifyRecord(ctx context.Context, number string, keys []record.Key) (v verifiedRecord, err error) {
	row, err := a.q.GetRecord(ctx, number)
	if err != nil {
		return v, err
	}
	if v.added, err = a.q.AdditionsOf(ctx, number); err != nil {
		return v, err
	}
	data, err := whole(row.File, v.added)
	if err != nil {
		return v, err
	}
	v.report = record.Verify(data, keys)
	return v, nil
}

// verifyElsewhere looks at the records of other sites: each must still be what it was when it was taken in.
func (a *App) verifyElsewhere(ctx context.Context, h *Held) error {
	rows, err := a.q.EveryElsewhere(ctx)
	if err != nil {
		return err
	}
	for _, r := range rows {
		h.Elsewhere++
		file, err := a.q.ElsewhereFile(ctx, r.Mark)
		if err != nil {
			return err
		}
		rep := record.Verify(file, nil)
		for _, p := range rep.Problems {
			h.bad("record %s of %s: %s", r.Number, r.Site, p)
		}
		if rep.Mark != r.Mark || rep.Number != r.Number || rep.KeyID != r.KeyID {
			h.bad("record %s of %s: the row names another number, key or digest than the sealed file", r.Number, r.Site)
		}
	}
	return nil
}

// verifyTests looks at the sealed sheets of tests under pressure, and whether what was recorded is what they say.
func (a *App) verifyTests(ctx context.Context, h *Held, keys []record.Key, marks map[string]string) error {
	sheets, err := a.q.EveryPressureTestSheet(ctx)
	if err != nil {
		return err
	}
	for _, r := range sheets {
		h.Tests++
		x, mark, err := pressuretest.Verify(r.File, keys)
		if err != nil {
			h.bad("test %s: %v", r.Tag, err)
			continue
		}
		if row, err := a.q.PressureTestSheet(ctx, r.Tag); err != nil || row.Mark != mark || row.Says != x.Says() ||
			row.Verdict != string(x.Verdict.Code) || x.Spec.Tag != r.Tag {
			h.bad("test %s: the row says another thing than the sealed sheet", r.Tag)
		}
		marks[r.Tag] = mark
		events, err := pressureTestEvents(ctx, a.q, r.Tag)
		if err != nil {
			return err
		}
		kept, err := record.Digest(events)
		if err != nil {
			return err
		}
		if sealed, err := record.Digest(x.Events); err != nil || kept != sealed {
			h.bad("test %s: what was recorded is not what was sealed", r.Tag)
		}
	}
	return nil
}

// additions holds what stands in the rows of the additions behind a record against what was signed, and keeps their
// hashes for the anchors.
func (h *Held) additions(number string, rows []store.AdditionsOfRow, marks map[string]string) {
	for _, row := range rows {
		h.Additions++
		x, err := decode[record.Addition](row.Body)
		hash, digestErr := record.Digest(json.RawMessage(row.Body))
		if err != nil || digestErr != nil || hash != row.Hash || x.Seq != int(row.Seq) || string(x.Kind) != row.Kind ||
			!x.At.Equal(row.At) || x.Person.ID != row.PersonID.String() || x.KeyID != row.KeyID {
			h.bad("record %s: what stands beside addition %d is not what it says", number, row.Seq)
		}
		marks[fmt.Sprintf("%s/%d", number, row.Seq)] = row.Hash
	}
}

type verifiedRun struct {
	hashes   []string // of every entry
	problems []string
}

// verifyRun follows the chain of a run and what stands beside it in the rows.
func (a *App) verifyRun(ctx context.Context, r store.EveryRunRow) (verifiedRun, error) {
	rows, err := a.q.RunEventsWhole(ctx, r.ID)
	if err != nil {
		return verifiedRun{}, err
	}
	var h Held
	entries, texts, hashes := make([]record.Entry, len(rows)), make([][]byte, len(rows)), make([]string, len(rows))
	for i, e := range rows {
		texts[i], hashes[i] = []byte(e.Body), e.Hash
		entries[i] = record.Entry{Seq: int(e.Seq), ReceivedAt: e.ReceivedAt.UTC(), PrevHash: e.PrevHash, Hash: e.Hash}
		if err := json.Unmarshal(texts[i], &entries[i].Event); err != nil {
			h.bad("run %s: event %d cannot be read", r.ID, e.Seq)
			continue
		}
		ev := entries[i].Event
		if ev.ID != e.ID.String() || string(ev.Kind) != e.Kind || ev.Person.ID != e.PersonID.String() ||
			!ev.When().Equal(e.At) || ev.DeviceKey != e.DeviceKey {
			h.bad("run %s: what stands beside event %d is not what it says", r.ID, e.Seq)
		}
		if e.DeviceKey != "" {
			key, err := identity.ParseDeviceKey(e.DevicePublic)
			if err != nil || key.ID != e.DeviceKey || key.Holds(identity.EventDigestText(r.ID.String(), e.SentSha256),
				e.Proof) != nil {
				h.bad("run %s: the device's signature of event %d does not hold", r.ID, e.Seq)
			}
		}
	}
	if err := record.CheckChain(r.ID.String(), entries, texts); err != nil {
		h.bad("run %s: %v", r.ID, err)
	}
	if n := len(entries); n != int(r.LastSeq) || n > 0 && hashes[n-1] != r.LastHash {
		h.bad("run %s: %d events are kept, the run counts %d", r.ID, n, r.LastSeq)
	}
	return verifiedRun{hashes, h.Problems}, nil
}

func (a *App) verifyPhotos(ctx context.Context, h *Held) error {
	ids, err := a.q.EveryPhoto(ctx)
	if err != nil {
		return err
	}
	for _, id := range ids {
		h.Photos++
		p, err := a.q.GetPhoto(ctx, id)
		if err != nil {
			return err
		}
		sum := sha256.Sum256(p.Bytes)
		digest := hex.EncodeToString(sum[:])
		if p.Sha256 != "" && p.Sha256 != digest {
			h.bad("picture %s was changed", id)
		}
		named, err := a.pictureNamed(ctx, p)
		if err != nil {
			return err
		}
		if named != "" && named != digest {
			h.bad("picture %s is not the one its entry names", id)
		}
	}
	return nil
}

// pictureNamed gives the digest by which an entry of its run, or what was added behind its record, names a picture. "":
// it is from before pictures were named so.
func (a *App) pictureNamed(ctx context.Context, p store.Photo) (string, error) {
	body, err := a.q.PhotoEvent(ctx, store.PhotoEventParams{RunID: p.RunID, Photo: p.ID.String()})
	if err == nil {
		e, err := decode[run.Event](body)
		return e.PhotoSHA256, err
	}
	if !none(err) {
		return "", err
	}
	if body, err = a.q.PhotoAddition(ctx, store.PhotoAdditionParams{RunID: p.RunID, Photo: p.ID.String()}); none(err) {
		return "", nil
	} else if err != nil {
		return "", err
	}
	x, err := decode[record.Addition](body)
	return x.PhotoSHA256, err
}

// verifyAnchors follows the anchors and looks for every head they hold.
func (a *App) verifyAnchors(ctx context.Context, h *Held, keys []record.Key, heads map[string][]string,
	marks map[string]string, outside map[int]string) error {
	rows, err := a.q.AnchorsInOrder(ctx)
	if err != nil {
		return err
	}
	previous, audited := "", int64(0)
	var unvouched []string
	for i, row := range rows {
		h.Anchors++
		f, err := anchorFile(ctx, a.q, row)
		if err != nil {
			h.bad("anchor %d cannot be read", row.Number)
			continue
		}
		hash, err := f.Anchor.Hash()
		if err != nil {
			return err
		}
		if f.Anchor.Number != i+1 || int(row.Number) != i+1 || hash != row.Hash {
			h.bad("anchor %d: one before it is missing, or it was changed", row.Number)
		}
		switch err := record.CheckAnchor(f.Anchor, f.Signature, f.Leaves, previous, keys); {
		case errors.Is(err, record.ErrKeyTime):
			unvouched = append(unvouched, err.Error())
		case err != nil:
			h.bad("%v", err)
		default:
			unvouched = nil // it vouches for those before it
		}
		if kept, ok := outside[i+1]; ok && kept != hash {
			h.bad("anchor %d is not the one that was kept outside: history was written anew", i+1)
		}
		delete(outside, i+1)
		previous = hash
		for _, l := range f.Leaves {
			switch l.Kind {
			case "run":
				if list := heads[l.ID]; l.Seq > len(list) || list[l.Seq-1] != l.Hash {
					h.bad("run %s: anchor %d holds %d entries of it that are not here as they were", l.ID, row.Number,
						l.Seq)
				}
			case "record", "addition", "test":
				if marks[l.ID] != l.Hash {
					h.bad(l.Kind+" %s: anchor %d holds it, and it is not here as it was", l.ID, row.Number)
				}
			case "audit":
				got, err := auditHash(ctx, a.q, audited, int64(l.Seq))
				if err != nil {
					return err
				}
				if got != l.Hash {
					h.bad("the audit log up to line %d is not what anchor %d holds", l.Seq, row.Number)
				}
				audited = int64(l.Seq)
			}
		}
	}
	h.Problems = append(h.Problems, unvouched...)
	for n := range outside {
		h.bad("anchor %d was kept outside and is not here: history was cut", n)
	}
	return nil
}
