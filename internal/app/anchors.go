package app

import (
	"context"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/identity"
	"dynacor/internal/store"
)

// AnchorRow is an anchor as it stands in a list.
type AnchorRow struct {
	Number int       `json:"number"`
	At     time.Time `json:"at"`
	Leaves int       `json:"leaves"`
	Hash   string    `json:"hash"`
	Code   string    `json:"code"` // the hash as people copy it
}

// AnchorFile is an anchor as it is handed out to be kept elsewhere.
type AnchorFile struct {
	Anchor    record.Anchor `json:"anchor"`
	Hash      string        `json:"hash"`
	Signature string        `json:"signature"`
	Leaves    []record.Leaf `json:"leaves"`
}

// KeyRow is a public key of the site and the time for which it holds.
type KeyRow struct {
	ID        string     `json:"id"`
	PublicKey string     `json:"publicKey"`
	From      *time.Time `json:"from,omitempty"`
	Until     *time.Time `json:"until,omitempty"`
	Revoked   *time.Time `json:"revoked,omitempty"`
	Reason    string     `json:"reason"`
}

// Trust is what everybody may know of the site, to verify its records without it.
type Trust struct {
	Site    string      `json:"site"`
	Keys    []KeyRow    `json:"keys"`
	Anchors []AnchorRow `json:"anchors"` // the newest first
}

// Trust gives the public keys and the latest anchors.
func (a *App) Trust(ctx context.Context) (Trust, error) {
	site, err := a.Setting(ctx, SettingSite, "Site not named")
	if err != nil {
		return Trust{}, err
	}
	out := Trust{Site: site, Keys: []KeyRow{}, Anchors: []AnchorRow{}}
	keys, err := a.q.ListKeys(ctx)
	if err != nil {
		return out, err
	}
	for _, k := range keys {
		out.Keys = append(out.Keys, KeyRow{k.ID, base64.StdEncoding.EncodeToString(k.PublicKey), k.ValidFrom, k.ValidUntil, k.RevokedFrom, k.RevokeReason})
	}
	rows, err := a.q.ListAnchors(ctx, 30)
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		body, err := decode[record.Anchor](r.Body)
		if err != nil {
			return out, err
		}
		out.Anchors = append(out.Anchors, AnchorRow{int(r.Number), r.At, body.Leaves, r.Hash, record.Code(r.Hash)})
	}
	return out, nil
}

// auditSettles is how long a line of the audit log may still be under way behind one that is written already.
const auditSettles = 10 * time.Minute

// Anchor makes an anchor over every head that is new since the one before. Refused: when this server has no signing key.
func (a *App) Anchor(ctx context.Context) (AnchorRow, error) {
	var out AnchorRow
	err := a.tx(ctx, func(q *store.Queries) error {
		key, err := a.signing(ctx, q)
		if err != nil {
			return err
		}
		if err := q.LockAnchors(ctx); err != nil {
			return err
		}
		last, err := q.LastAnchor(ctx)
		if err != nil && !none(err) {
			return err
		}
		leaves, err := newLeaves(ctx, q, a.now())
		if err != nil {
			return err
		}
		site, err := setting(ctx, q, SettingSite, "Site not named")
		if err != nil {
			return err
		}
		n, sig, err := record.NewAnchor(site, int(last.Number)+1, last.Hash, leaves, a.now().UTC().Truncate(time.Second), key.Private)
		if err != nil {
			return err
		}
		hash, err := n.Hash()
		if err != nil {
			return err
		}
		body, err := record.Canonical(n)
		if err != nil {
			return err
		}
		if err := q.InsertAnchor(ctx, store.InsertAnchorParams{Number: int32(n.Number), At: n.At, Hash: hash, Body: string(body), Signature: sig}); err != nil {
			return err
		}
		rows := make([]store.AddAnchorLeavesParams, len(leaves))
		for i, l := range leaves {
			rows[i] = store.AddAnchorLeavesParams{Anchor: int32(n.Number), Kind: l.Kind, ID: l.ID, Seq: int32(l.Seq), Hash: l.Hash}
		}
		if _, err := q.AddAnchorLeaves(ctx, rows); err != nil {
			return err
		}
		out = AnchorRow{n.Number, n.At, n.Leaves, hash, record.Code(hash)}
		return nil
	})
	return out, err
}

// newLeaves are the heads that no anchor holds yet, in their order.
func newLeaves(ctx context.Context, q *store.Queries, now time.Time) ([]record.Leaf, error) {
	leaves := []record.Leaf{}
	runs, err := q.NewRunHeads(ctx)
	if err != nil {
		return nil, err
	}
	for _, r := range runs {
		leaves = append(leaves, record.Leaf{Kind: "run", ID: r.ID, Seq: int(r.LastSeq), Hash: r.LastHash})
	}
	records, err := q.NewRecordMarks(ctx)
	if err != nil {
		return nil, err
	}
	for _, r := range records {
		leaves = append(leaves, record.Leaf{Kind: "record", ID: r.Number, Seq: 1, Hash: r.Mark})
	}
	from, err := q.LastAuditLeaf(ctx)
	if err != nil {
		return nil, err
	}
	upto, err := q.AuditSettled(ctx, now.Add(-auditSettles))
	if err != nil {
		return nil, err
	}
	if upto > int64(from) {
		hash, err := auditHash(ctx, q, int64(from), upto)
		if err != nil {
			return nil, err
		}
		leaves = append(leaves, record.Leaf{Kind: "audit", ID: fmt.Sprintf("%010d-%010d", from, upto), Seq: int(upto), Hash: hash})
	}
	record.SortLeaves(leaves)
	return leaves, nil
}

// auditHash is the digest of a stretch of the audit log: of the canonical texts of its lines, each hashed behind the ones before.
func auditHash(ctx context.Context, q *store.Queries, after, upto int64) (string, error) {
	rows, err := q.AuditStretch(ctx, store.AuditStretchParams{After: after, Upto: upto})
	if err != nil {
		return "", err
	}
	h := sha256.New()
	for _, r := range rows {
		text, err := record.Canonical(AuditRow{int(r.ID), r.At.UTC(), r.Who, r.Action, r.Subject, r.Before, r.After})
		if err != nil {
			return "", err
		}
		h.Write(text)
		h.Write([]byte{'\n'})
	}
	return hex.EncodeToString(h.Sum(nil)), nil
}

// AnchorDaily makes the day's anchor when there is none yet; made says whether it did.
func (a *App) AnchorDaily(ctx context.Context) (made bool, err error) {
	last, err := a.q.LastAnchor(ctx)
	if err != nil && !none(err) {
		return false, err
	}
	if err == nil && last.At.UTC().Format(time.DateOnly) >= a.now().UTC().Format(time.DateOnly) {
		return false, nil
	}
	_, err = a.Anchor(ctx)
	return err == nil, err
}

// AnchorFile gives an anchor with its heads, to be kept elsewhere.
func (a *App) AnchorFile(ctx context.Context, number int) (AnchorFile, error) {
	row, err := a.q.GetAnchor(ctx, int32(number))
	if none(err) {
		return AnchorFile{}, notFound("anchor", fmt.Sprint(number))
	}
	if err != nil {
		return AnchorFile{}, err
	}
	return anchorFile(ctx, a.q, row)
}

func anchorFile(ctx context.Context, q *store.Queries, row store.Anchor) (AnchorFile, error) {
	body, err := decode[record.Anchor](row.Body)
	if err != nil {
		return AnchorFile{}, err
	}
	out := AnchorFile{Anchor: body, Hash: row.Hash, Signature: row.Signature, Leaves: []record.Leaf{}}
	leaves, err := q.LeavesOf(ctx, row.Number)
	if err != nil {
		return out, err
	}
	for _, l := range leaves {
		out.Leaves = append(out.Leaves, record.Leaf{Kind: l.Kind, ID: l.ID, Seq: int(l.Seq), Hash: l.Hash})
	}
	return out, nil
}

// Held is the result of looking through everything that is kept.
type Held struct {
	Runs, Events, Records, Photos, Anchors int
	Problems                               []string
}

func (h *Held) bad(format string, args ...any) {
	h.Problems = append(h.Problems, fmt.Sprintf(format, args...))
}

// VerifyAll looks through everything that is kept, run by run: every chain, every record, every picture, what devices signed, every anchor and every head that one
// holds. outside are anchors that were kept elsewhere, by number: their hashes must be those kept here.
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
	for _, r := range runs {
		h.Runs++
		hashes, err := a.verifyRun(ctx, &h, r)
		if err != nil {
			return h, err
		}
		heads[r.ID.String()] = hashes
	}
	marks := map[string]string{}
	records, err := a.q.EveryRecord(ctx)
	if err != nil {
		return h, err
	}
	for _, r := range records {
		h.Records++
		row, err := a.q.GetRecord(ctx, r.Number)
		if err != nil {
			return h, err
		}
		rep := record.Verify(row.File, keys)
		for _, p := range rep.Problems {
			h.bad("record %s: %s", r.Number, p)
		}
		if rep.Number != r.Number || rep.Mark != r.Mark {
			h.bad("record %s: the row names another number or mark than the sealed file", r.Number)
		}
		marks[r.Number] = rep.Mark
	}
	if err := a.verifyPhotos(ctx, &h); err != nil {
		return h, err
	}
	return h, a.verifyAnchors(ctx, &h, keys, heads, marks, outside)
}

// verifyRun follows the chain of a run and what stands beside it in the rows, and gives the hash of every entry.
func (a *App) verifyRun(ctx context.Context, h *Held, r store.EveryRunRow) ([]string, error) {
	rows, err := a.q.RunEventsWhole(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	entries, texts, hashes := make([]record.Entry, len(rows)), make([][]byte, len(rows)), make([]string, len(rows))
	for i, e := range rows {
		h.Events++
		texts[i], hashes[i] = []byte(e.Body), e.Hash
		entries[i] = record.Entry{Seq: int(e.Seq), ReceivedAt: e.ReceivedAt.UTC(), PrevHash: e.PrevHash, Hash: e.Hash}
		if err := json.Unmarshal(texts[i], &entries[i].Event); err != nil {
			h.bad("run %s: event %d cannot be read", r.ID, e.Seq)
			continue
		}
		ev := entries[i].Event
		if ev.ID != e.ID.String() || string(ev.Kind) != e.Kind || ev.Person.ID != e.PersonID.String() || !ev.When().Equal(e.At) || ev.DeviceKey != e.DeviceKey {
			h.bad("run %s: what stands beside event %d is not what it says", r.ID, e.Seq)
		}
		if e.DeviceKey != "" {
			key, err := identity.ParseDeviceKey(e.DevicePublic)
			if err != nil || key.ID != e.DeviceKey || key.Holds(identity.EventDigestText(r.ID.String(), e.SentSha256), e.Proof) != nil {
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
	return hashes, nil
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
		body, err := a.q.PhotoEvent(ctx, store.PhotoEventParams{RunID: p.RunID, Photo: id.String()})
		if none(err) {
			continue // from before pictures were named by an entry with their digest
		}
		if err != nil {
			return err
		}
		if e, err := decode[run.Event](body); err == nil && e.PhotoSHA256 != "" && e.PhotoSHA256 != digest {
			h.bad("picture %s is not the one its entry names", id)
		}
	}
	return nil
}

// verifyAnchors follows the anchors and looks for every head they hold.
func (a *App) verifyAnchors(ctx context.Context, h *Held, keys []record.Key, heads map[string][]string, marks map[string]string, outside map[int]string) error {
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
					h.bad("run %s: anchor %d holds %d entries of it that are not here as they were", l.ID, row.Number, l.Seq)
				}
			case "record":
				if marks[l.ID] != l.Hash {
					h.bad("record %s: anchor %d holds it, and it is not here as it was", l.ID, row.Number)
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
