package record

import (
	"crypto/ed25519"
	"encoding/json"
	"fmt"

	"dynacor/core/plan"
)

// verifyWhole checks a record and everything behind it.
func verifyWhole(text []byte, top node, known []Key) Report {
	file, _ := top.get("file")
	// read again, so that its members are known as deep as they must be
	inner, in, err := strict(text[file.start:file.end])
	r := verifySealed(inner, in, err, known)
	if err := top.only("the file", "file", "additions"); err != nil {
		r.bad("This is not a sealed record of Dynacor as it was exported: %v.", err)
	}
	list, _ := top.get("additions")
	if !list.list || len(list.kids) > MostAdditions {
		r.bad("The additions are no list, or more than %d.", MostAdditions)
		list.kids = nil
	}
	var p *plan.Plan
	var audited Record
	if r.OK { // else the plan may be anybody's
		if _, rec, err := Read(text[file.start:file.end]); err == nil {
			p, audited = rec.Plan, rec
		}
	}
	prev, before := r.Mark, r.SealedAt
	for i, n := range list.kids {
		a, hash, problems := readAddition(text, n, known)
		r.Additions = append(r.Additions, a)
		switch {
		case a.Record != r.Number || a.Mark != r.Mark:
			problems = append(problems, "belongs to another record")
		case a.Seq != i+1 || a.PrevHash != prev:
			problems = append(problems, "does not follow the one before it: one was taken out, added or moved")
		case a.At.Before(before):
			problems = append(problems, "is older than what it stands behind")
		case a.When().Before(r.SealedAt):
			problems = append(problems, "was seen before the record was sealed")
		}
		if p != nil && len(problems) == 0 {
			problems = a.follows(p)
			if why := audited.MayAudit(a.Person); why != "" && a.Kind == Audited {
				problems = append(problems, "is no audit: "+why)
			}
		}
		for _, x := range problems {
			r.bad("Addition %d %s.", i+1, x)
		}
		prev, before = hash, a.At
	}
	if len(r.Problems) == 0 {
		r.good("%d additions behind it, each signed, in their chain", len(list.kids))
	}
	r.OK = len(r.Problems) == 0
	return r
}

// follows says what is wrong with what an addition says of a plan.
func (a Addition) follows(p *plan.Plan) []string {
	if err := a.Check(p); err != nil {
		return []string{"does not fit its record: " + err.Error()}
	}
	v, said := a.Judge(p)
	if v != a.Verdict || said != a.Sentence {
		return []string{"says another result than its visits give"}
	}
	return nil
}

// Keys that an addition and its file may have.
var (
	additionFileKeys = []string{"addition", "signature", "publicKey"}
	additionKeys     = []string{"format", "record", "mark", "seq", "prevHash", "at", "keyId", "kind", "person", "what",
		"place", "was", "is", "visits", "torqueNm", "tool", "toolIs", "limitDeg", "limitFrom", "verdict", "sentence",
		"audit", "test", "testMark", "failed", "seenAt", "look",
		"photo", "photoSha256"}
)

// readAddition reads one addition and checks form, key and signature.
func readAddition(text []byte, n node, known []Key) (a Addition, hash string, problems []string) {
	bad := func(format string, args ...any) { problems = append(problems, fmt.Sprintf(format, args...)) }
	if err := exactly(n, "it", additionFileKeys...); err != nil {
		bad("cannot be read: %v", err)
		return a, "", problems
	}
	at := func(key string) []byte {
		m, _ := n.get(key)
		return text[m.start:m.end]
	}
	body, _ := n.get("addition")
	if err := body.only("it", additionKeys...); err != nil {
		bad("cannot be read: %v", err)
	}
	var sig, key string
	for _, x := range []struct {
		text []byte
		into any
	}{{at("addition"), &a}, {at("signature"), &sig}, {at("publicKey"), &key}} {
		if err := json.Unmarshal(x.text, x.into); err != nil {
			bad("cannot be read: %v", err)
			return a, "", problems
		}
	}
	hash = Sum(at("addition"))
	if a.Format != AdditionFormat {
		bad("has the format %q; this program reads %q", clip(a.Format), AdditionFormat)
	}
	pub, ok := exact(key, ed25519.PublicKeySize)
	if !ok || KeyID(pub) != a.KeyID {
		bad("has another key than it names")
		return a, hash, problems
	}
	if err := Believe(known, pub, a.At); err != nil {
		bad("is not to be believed: %v", err)
	}
	if s, ok := exact(sig, ed25519.SignatureSize); !ok || !ed25519.Verify(pub, additionText(at("addition")), s) {
		bad("was changed: the signature does not fit")
	}
	return a, hash, problems
}
