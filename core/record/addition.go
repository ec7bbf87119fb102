package record

import (
	"crypto/ed25519"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// AdditionFormat names the form of what is added to a sealed record.
const AdditionFormat = "dynacor-addition/1"

// AdditionKind is what an addition is about.
type AdditionKind string

// The kinds of additions. A sealed record is never changed: what is wrong in it, and what becomes of its joint, is
// added behind it.
const (
	Correction AdditionKind = "correction" // something in the record is not as it was
	Retorque   AdditionKind = "retorque"   // every nut tried again at a torque, after a time
	Recheck    AdditionKind = "recheck"    // looked at or measured again
	Heated     AdditionKind = "heat"       // went warm and cold again
	Finding    AdditionKind = "finding"    // what was found in service
	Audited    AdditionKind = "audit"      // fasteners drawn by a rule and read by somebody who did not tighten them
	Tested     AdditionKind = "test"       // a test under pressure that covered the joint, added when it is closed
)

// Words name the kind as a page does.
func (k AdditionKind) Words() string {
	return map[AdditionKind]string{Correction: "Correction", Retorque: "Re-torque", Recheck: "Re-check", Heated: "Heat cycle",
		Finding: "Finding in service", Tested: "Test under pressure", Audited: "Audit"}[k]
}

// AdditionKinds are those that somebody writes, in the order in which they are offered.
var AdditionKinds = []AdditionKind{Audited, Retorque, Recheck, Heated, Finding, Correction}

// Takes is what an addition of the kind takes of whoever signs it.
func (k AdditionKind) Takes() authority.Act {
	switch k {
	case Correction:
		return authority.CorrectRecord
	case Audited:
		return authority.SignProved
	}
	return authority.AddToRecord
}

// AdditionVerdict is how a re-torque or an audit came out.
type AdditionVerdict string

// The verdicts of a re-torque.
const (
	Stayed     AdditionVerdict = "stayed"     // all tried, none turned
	Moved      AdditionVerdict = "moved"      // all tried, none turned further than the rule
	MovedPast  AdditionVerdict = "moved_past" // one turned further than the rule
	Unfinished AdditionVerdict = "unfinished" // not all were tried, none of those past the rule
)

// Visit is one fastener tried at a re-torque, or read at an audit.
type Visit struct {
	Fastener  int     `json:"fastener"`            // position, from 1
	TurnedDeg float64 `json:"turnedDeg,omitempty"` // how far it turned before the tool told; 0: it stayed
	MovedNm   float64 `json:"movedNm,omitempty"`   // the torque at which it moved on in the tightening direction
}

// Addition is a sheet behind a sealed record. Mark is that of the seal it belongs to, PrevHash the hash of the addition
// before it, or the mark for the first: so none can be taken out from between, or moved to another record.
type Addition struct {
	Format   string       `json:"format"`
	Record   string       `json:"record"`
	Mark     string       `json:"mark"`
	Seq      int          `json:"seq"` // from 1
	PrevHash string       `json:"prevHash"`
	At       time.Time    `json:"at"`
	KeyID    string       `json:"keyId"`
	Kind     AdditionKind `json:"kind"`
	Person   run.Person   `json:"person"` // who signed it by PIN
	What     string       `json:"what"`   // what was found or done, and why; of a correction, its reason

	// of what was seen on a walk
	SeenAt      *time.Time `json:"seenAt,omitempty"`      // when, of what was signed later
	Look        string     `json:"look,omitempty"`        // as the device calls it, so that it is added once
	Photo       string     `json:"photo,omitempty"`       // a picture of it, by identifier
	PhotoSHA256 string     `json:"photoSha256,omitempty"` // of its bytes as the device sent them

	// of a correction: which entry or figure, what stands there, what is right
	Place string `json:"place,omitempty"`
	Was   string `json:"was,omitempty"`
	Is    string `json:"is,omitempty"`

	// of a re-torque
	Visits    []Visit         `json:"visits,omitempty"`
	TorqueNm  float64         `json:"torqueNm,omitempty"`
	Tool      string          `json:"tool,omitempty"`      // its tag
	ToolIs    string          `json:"toolIs,omitempty"`    // what it is, and its certificate
	LimitDeg  float64         `json:"limitDeg,omitempty"`  // a nut may turn so far
	LimitFrom string          `json:"limitFrom,omitempty"` // where that comes from
	Verdict   AdditionVerdict `json:"verdict,omitempty"`
	Sentence  string          `json:"sentence,omitempty"`

	Audit *Audit `json:"audit,omitempty"` // of an audit: how it was drawn and read

	// of a test under pressure
	Test     string `json:"test,omitempty"`     // its tag
	TestMark string `json:"testMark,omitempty"` // SHA-256 of its sealed sheet
	Failed   bool   `json:"failed,omitempty"`   // it speaks against the joints that it covered
}

// When is when what it says was so: when it was seen, else when it was signed.
func (a Addition) When() time.Time {
	if a.SeenAt != nil {
		return *a.SeenAt
	}
	return a.At
}

// AdditionFile is an addition as it is kept and handed out.
type AdditionFile struct {
	Addition  json.RawMessage `json:"addition"`
	Signature string          `json:"signature"` // Ed25519 over format and canonical text, a line each, base64
	PublicKey string          `json:"publicKey"`
}

// Whole is a sealed record with everything that was added behind it.
type Whole struct {
	File      json.RawMessage `json:"file"`
	Additions []AdditionFile  `json:"additions"`
}

// Bounds of an addition.
const (
	MostAdditions = 500 // behind one record
	mostWords     = 1000
	mostTurnDeg   = 720
)

// Check refuses an addition that cannot be meant, by field: words that say nothing, a fastener that the joint does not
// have or that was tried twice, a torque no wrench gives.
func (a Addition) Check(p *plan.Plan) error {
	if n := len([]rune(strings.TrimSpace(a.What))); n < 8 || n > mostWords {
		return quantity.Refuse("what", "Say in a sentence what, and why.", "has %d letters", n)
	}
	if err := a.checkBelongs(); err != nil {
		return err
	}
	switch a.Kind {
	case Correction, Recheck, Heated, Finding, Tested:
		if len(a.Visits) > 0 || a.TorqueNm != 0 || a.Tool != "" {
			return quantity.Refuse("visits", "Leave them out, or make it a re-torque.", "belong to a re-torque")
		}
		return nil
	case Retorque:
		return a.checkVisits(p)
	case Audited:
		return a.checkAudit(p)
	}
	return quantity.Refuse("kind", "Choose a correction, an audit, a re-torque, a re-check, a heat cycle or a finding.",
		"%q is none that is known", a.Kind)
}

// checkBelongs refuses what belongs to another kind, and a correction that does not say what it corrects.
func (a Addition) checkBelongs() error {
	if err := a.checkSeen(); err != nil {
		return err
	}
	if a.Kind == Correction {
		for _, f := range []struct{ name, text string }{{"place", a.Place}, {"is", a.Is}} {
			if n := len([]rune(strings.TrimSpace(f.text))); n < 1 || n > 200 {
				return quantity.Refuse(f.name, "Say where the record is wrong and what is right, 200 letters at most.",
					"has %d letters", n)
			}
		}
		if len([]rune(a.Was)) > 200 {
			return quantity.Refuse("was", "200 letters at most.", "is too long")
		}
	} else if a.Place+a.Was+a.Is != "" {
		return quantity.Refuse("place", "Leave it out, or make it a correction.", "belongs to a correction")
	}
	if a.Audit != nil && a.Kind != Audited {
		return quantity.Refuse("audit", "Leave it out, or make it an audit.", "belongs to an audit")
	}
	if own := a.Kind == Tested; own != (a.Test != "") || own != (len(a.TestMark) == 64) || a.Failed && !own {
		return quantity.Refuse("test", "A test is added when it is closed, with its tag and its digest.",
			"belongs to a test under pressure")
	}
	return nil
}

// checkSeen refuses a time and a picture of what nobody goes to see, a time after the signature, and a picture that is not
// named by its identifier and its digest.
func (a Addition) checkSeen() error {
	looked := a.Kind == Recheck || a.Kind == Finding
	switch {
	case a.SeenAt != nil && !looked:
		return quantity.Refuse("seenAt", "Leave it out.", "belongs to what was looked at or found")
	case a.SeenAt != nil && a.SeenAt.After(a.At):
		return quantity.Refuse("seenAt", "Sign after you have looked.", "is after it was signed")
	case a.Photo+a.PhotoSHA256 != "" && !looked:
		return quantity.Refuse("photo", "Leave it out.", "belongs to what was looked at or found")
	}
	return run.CheckPicture(a.Photo, a.PhotoSHA256)
}

func (a Addition) checkVisits(p *plan.Plan) error {
	if err := quantity.Between("torqueNm", a.TorqueNm, 0.1, 1e6); err != nil {
		return err
	}
	if n := len([]rune(strings.TrimSpace(a.Tool))); n < 1 || n > 80 {
		return quantity.Refuse("tool", "Enter the label of the tool.", "has %d letters", n)
	}
	return a.checkVisitList(p)
}

// checkVisitList refuses visits of fasteners that are not there or were visited before.
func (a Addition) checkVisitList(p *plan.Plan) error {
	if len(a.Visits) == 0 {
		return quantity.Refuse("visits", "Try at least one fastener.", "are none")
	}
	seen := map[int]bool{}
	for i, v := range a.Visits {
		field := fmt.Sprintf("visits[%d]", i)
		if v.Fastener < 1 || v.Fastener > p.Count() {
			return quantity.Refuse(field, "Name one of the joint's.", "the joint has %d fasteners and none numbered %d",
				p.Count(), v.Fastener)
		}
		if seen[v.Fastener] {
			return quantity.Refuse(field, "Leave one of the two out.", "fastener %d stands twice", v.Fastener)
		}
		seen[v.Fastener] = true
		if err := quantity.Between(field+".turnedDeg", v.TurnedDeg, 0, mostTurnDeg); err != nil {
			return err
		}
	}
	return nil
}

// Judge says how a re-torque came out: whether every fastener was tried, which of them turned, and whether one turned
// further than LimitDeg. Own rule: a nut that turns had lost load; one that turns far had lost most of it.
func (a Addition) Judge(p *plan.Plan) (AdditionVerdict, string) {
	switch a.Kind {
	case Audited:
		return a.judgeAudit(p)
	case Retorque:
	default:
		return "", ""
	}
	var moved, past []string
	far := 0.0
	for _, v := range a.Visits {
		far = max(far, v.TurnedDeg)
		if v.TurnedDeg > 0 {
			moved = append(moved, p.NameOf(v.Fastener))
		}
		if !quantity.AtMost(v.TurnedDeg, a.LimitDeg) {
			past = append(past, p.NameOf(v.Fastener))
		}
	}
	n, all := len(a.Visits), p.Count()
	at := fmt.Sprintf("%d of %d tried at %s N·m", n, all, quantity.Text(a.TorqueNm))
	rule := fmt.Sprintf("%s° of the %s", quantity.Text(a.LimitDeg), a.LimitFrom)
	switch {
	case len(past) > 0:
		return MovedPast, fmt.Sprintf("%s: %s turned further than %s, up to %s°. The joint had lost load: find out "+
			"why.", at, strings.Join(past, ", "), rule, quantity.Text(far))
	case n < all:
		return Unfinished, fmt.Sprintf("%s: not all. %s", at, turned(moved))
	case len(moved) > 0:
		return Moved, fmt.Sprintf("%s: %s turned, up to %s°, inside %s.", at, strings.Join(moved, ", "),
			quantity.Text(far), rule)
	}
	return Stayed, at + ": none turned."
}

func turned(names []string) string {
	if len(names) == 0 {
		return "None of those turned."
	}
	return strings.Join(names, ", ") + " turned."
}

// Seal signs an addition and gives it with its hash, which the next one names. Refused: one that Check refuses.
func (a Addition) Seal(p *plan.Plan, key ed25519.PrivateKey) (f AdditionFile, hash string, err error) {
	pub := key.Public().(ed25519.PublicKey)
	a.Format, a.KeyID = AdditionFormat, KeyID(pub)
	if err := a.Check(p); err != nil {
		return f, "", err
	}
	a.Verdict, a.Sentence = a.Judge(p)
	text, err := Canonical(a)
	if err != nil {
		return f, "", err
	}
	return AdditionFile{Addition: text, PublicKey: base64.StdEncoding.EncodeToString(pub),
		Signature: base64.StdEncoding.EncodeToString(ed25519.Sign(key, additionText(text)))}, Sum(text), nil
}

// DueAgain says why the joint wants to be looked at again after an addition, "" when it does not.
func (a Addition) DueAgain() string {
	switch {
	case a.Kind == Finding:
		return "found in service"
	case a.Failed:
		return "test " + a.Test + " failed"
	case a.Verdict == WholeLot, a.Verdict == Outside:
		return "outside at an audit"
	case a.Verdict == MovedPast:
		return "had lost load at a re-torque"
	}
	return ""
}

// additionText is what the signature of an addition covers.
func additionText(text []byte) []byte { return slices.Concat([]byte(AdditionFormat+"\n"), text) }

// Bytes is a record with its additions as it is handed out: canonical text. Refused: more than a verifier reads.
func (w Whole) Bytes() ([]byte, error) {
	b, err := Canonical(w)
	if err == nil && (len(b) > MostBytes || len(w.Additions) > MostAdditions) {
		return nil, fmt.Errorf("record: with its additions the file would be larger than %d MB, or have more than %d",
			MostBytes>>20, MostAdditions)
	}
	return b, err
}

// SealedIn gives the sealed record in a file: the one before its additions, or the file itself when it has none.
// Refused: a file that cannot be read strictly.
func SealedIn(data []byte) ([]byte, error) {
	text, top, err := strict(data)
	if err != nil {
		return nil, fmt.Errorf("record: %w", err)
	}
	if file, ok := top.get("file"); ok && isWhole(top) {
		return text[file.start:file.end], nil
	}
	return data, nil
}

// isWhole reports whether a file says of itself that it has additions.
func isWhole(top node) bool {
	_, file := top.get("file")
	_, additions := top.get("additions")
	return file && additions
}
