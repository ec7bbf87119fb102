package coretest

import (
	"crypto/ed25519"
	"strings"
	"time"

	"dynacor/core/plan"
	"dynacor/core/record"
)

// Key is a signing key made from one letter.
func Key(seed byte) ed25519.PrivateKey {
	return ed25519.NewKeyFromSeed([]byte(strings.Repeat(string(rune(seed)), 32)))
}

// Finished is the record of the made-up joint, carried to both signatures and chained. With steps the work goes another
// way than Finish.
func Finished(steps func(*Script)) (record.Record, error) {
	p, err := plan.Make(Input())
	if err != nil {
		return record.Record{}, err
	}
	s := NewScript(p)
	steps(s)
	rec := record.Record{Number: "TS-2026-00001", Site: "Tarn Skerry", RunID: "run-1", Plan: p, State: s.State(),
		Statement: record.Statement}
	prev := ""
	for i, e := range s.Events {
		entry := record.Entry{Seq: i + 1, ReceivedAt: e.At, PrevHash: prev, Event: e}
		if entry.Hash, err = record.Link("run-1", entry); err != nil {
			return rec, err
		}
		prev = entry.Hash
		rec.Events = append(rec.Events, entry)
	}
	return rec, nil
}

// Sealed is the record of the made-up joint, signed with Key('a') three hours after the beginning.
func Sealed() (record.File, error) {
	rec, err := Finished((*Script).Finish)
	if err != nil {
		return record.File{}, err
	}
	return record.Sign(rec, Key('a'), Day.Add(3*time.Hour))
}
