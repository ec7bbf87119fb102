package record

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"

	"dynacor/core/run"
)

// chain follows the hashes from entry to entry, over the texts as they stand in the file.
func (r *Report) chain(o opened) bool {
	before := len(r.Problems)
	list, _ := o.record.get("events")
	id, _ := o.record.get("runId")
	if !list.list {
		r.bad("The record has no list of events.")
		return false
	}
	prev := ""
	for i, n := range list.kids {
		if len(r.Problems) >= mostProblems {
			break
		}
		e, err := entryAt(o, n)
		if err != nil {
			r.bad("Event %d cannot be read: %v.", i+1, err)
			continue
		}
		if e.seq != i+1 {
			r.bad("%s stands at place %d: an event was removed, added or moved.", e.words(), i+1)
		}
		if e.prev != prev {
			r.bad("%s does not follow from the one before it.", e.words())
		}
		if link(e.prev, e.event, e.receivedAt, o.at(id), e.seqText) != e.hash {
			r.bad("%s was changed after it was recorded.", e.words())
		}
		prev = e.hash
	}
	r.EventCount = len(list.kids)
	r.good("Chain of %d events", r.EventCount)
	return len(r.Problems) == before
}

// rawEntry is an entry with the texts that its hash is made of.
type rawEntry struct {
	seq                        int
	prev, hash                 string
	event, receivedAt, seqText []byte
}

func entryAt(o opened, n node) (e rawEntry, err error) {
	if err := exactly(n, "the entry", entryKeys...); err != nil {
		return e, err
	}
	get := func(key string) []byte {
		k, _ := n.get(key)
		return o.at(k)
	}
	e.event, e.receivedAt, e.seqText = get("event"), get("receivedAt"), get("seq")
	if e.seq, err = strconv.Atoi(string(e.seqText)); err != nil {
		return e, errors.New("its number is not one")
	}
	var ok1, ok2 bool
	e.prev, ok1 = hashText(get("prevHash"))
	e.hash, ok2 = hashText(get("hash"))
	if !ok1 || !ok2 {
		return e, errors.New("its hashes are not texts")
	}
	return e, nil
}

// hashText takes the quotes off a text that needs no escapes; a hash is one.
func hashText(raw []byte) (string, bool) {
	if len(raw) < 2 || raw[0] != '"' || bytes.IndexByte(raw, '\\') >= 0 {
		return "", false
	}
	return string(raw[1 : len(raw)-1]), true
}

// words name the entry as far as it can be read.
func (e rawEntry) words() string {
	var ev run.Event
	_ = json.Unmarshal(e.event, &ev) // what cannot be read is left out of the name
	return Entry{Seq: e.seq, Event: ev}.words()
}

// words name an entry: Event 17 (pulled, bolt at position 3, pass 2, M. Tolley).
func (e Entry) words() string {
	what := fmt.Sprintf("Event %d (%s", e.Seq, clip(string(e.Event.Kind)))
	if e.Event.Fastener > 0 {
		what += fmt.Sprintf(", bolt at position %d, pass %d", e.Event.Fastener, e.Event.Pass)
	}
	return what + fmt.Sprintf(", %s)", clip(e.Event.Person.Name))
}

// CheckChain follows a chain from its first entry, with the canonical texts of the events as they are kept. Refused:
// the first entry that does not hold, named.
func CheckChain(runID string, entries []Entry, texts [][]byte) error {
	prev := ""
	for i, e := range entries {
		h, err := LinkText(runID, e, texts[i])
		if err != nil {
			return err
		}
		switch {
		case e.Seq != i+1:
			return fmt.Errorf("%s stands at place %d: an event was removed, added or moved", e.words(), i+1)
		case e.PrevHash != prev:
			return fmt.Errorf("%s does not follow from the one before it", e.words())
		case h != e.Hash:
			return fmt.Errorf("%s was changed after it was recorded", e.words())
		}
		prev = e.Hash
	}
	return nil
}
