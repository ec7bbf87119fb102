package app

import (
	"context"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"time"

	"dynacor/core/record"
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
		out.Keys = append(out.Keys, KeyRow{k.ID, base64.StdEncoding.EncodeToString(k.PublicKey), k.ValidFrom,
			k.ValidUntil, k.RevokedFrom, k.RevokeReason})
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

// Anchor makes an anchor over every head that is new since the one before. Refused: when this server has no signing
// key.
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
		n, sig, err := record.NewAnchor(site, int(last.Number)+1, last.Hash, leaves,
			a.now().UTC().Truncate(time.Second), key.Private)
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
		if err := q.InsertAnchor(ctx, store.InsertAnchorParams{Number: int32(n.Number), At: n.At, Hash: hash,
			Body: string(body), Signature: sig}); err != nil {
			return err
		}
		rows := make([]store.AddAnchorLeavesParams, len(leaves))
		for i, l := range leaves {
			rows[i] = store.AddAnchorLeavesParams{Anchor: int32(n.Number), Kind: l.Kind, ID: l.ID, Seq: int32(l.Seq),
				Hash: l.Hash}
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
	additions, err := q.NewAdditionHashes(ctx)
	if err != nil {
		return nil, err
	}
	for _, r := range additions {
		leaves = append(leaves, record.Leaf{Kind: "addition", ID: fmt.Sprintf("%s/%d", r.Number, r.Seq),
			Seq: int(r.Seq), Hash: r.Hash})
	}
	tests, err := q.NewPressureTestMarks(ctx)
	if err != nil {
		return nil, err
	}
	for _, r := range tests {
		leaves = append(leaves, record.Leaf{Kind: "test", ID: r.Tag, Seq: 1, Hash: r.Mark})
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
		leaves = append(leaves, record.Leaf{Kind: "audit", ID: fmt.Sprintf("%010d-%010d", from, upto), Seq: int(upto),
			Hash: hash})
	}
	record.SortLeaves(leaves)
	return leaves, nil
}

// auditHash is the digest of a stretch of the audit log: of the canonical texts of its lines, each hashed behind the
// ones before.
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
