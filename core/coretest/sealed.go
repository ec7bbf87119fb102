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

// Whole is Sealed with a re-torque behind it, after which the batch in the record is corrected.
func Whole() ([]byte, error) {
	rec, err := Finished((*Script).Finish)
	if err != nil {
		return nil, err
	}
	f, err := Sealed()
	if err != nil {
		return nil, err
	}
	file, err := f.Bytes()
	if err != nil {
		return nil, err
	}
	mark, err := f.Mark()
	if err != nil {
		return nil, err
	}
	prev, w := mark, record.Whole{File: file}
	for i, a := range []record.Addition{
		{Kind: record.Retorque, What: "Tried again after a day, cold.", TorqueNm: 300, Tool: "W-40",
			ToolIs: "click wrench", Visits: []record.Visit{{Fastener: 1}, {Fastener: 2, TurnedDeg: 4}}, LimitDeg: 15,
			LimitFrom: "house rules, version 1"},
		{Kind: record.Correction, What: "The tin in the store is another one.", Place: "batch of the lubricant",
			Was: "C8", Is: "C9"},
	} {
		a.Record, a.Mark, a.Seq, a.PrevHash = rec.Number, mark, i+1, prev
		a.At, a.Person = Day.Add(time.Duration(27+i)*time.Hour), Tolley
		x, hash, err := a.Seal(rec.Plan, Key('a'))
		if err != nil {
			return nil, err
		}
		w.Additions, prev = append(w.Additions, x), hash
	}
	return w.Bytes()
}
