package app

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"math"
	"slices"

	"dynacor/core/run"
	"dynacor/internal/device"
	"dynacor/internal/store"
)

// DeviceResult is a numbered result as it was taken in.
type DeviceResult struct {
	Tag     string         `json:"tag"`
	Seq     int            `json:"seq"`
	Reading device.Reading `json:"reading"`
}

// IssueDeviceToken makes a new token for a tool. Only its hash is kept: it is shown once.
func (a *App) IssueDeviceToken(ctx context.Context, who Actor, tag string) (string, error) {
	if _, err := a.q.GetTool(ctx, tag); none(err) {
		return "", notFound("tool", tag)
	}
	raw := make([]byte, 24)
	if _, err := rand.Read(raw); err != nil {
		return "", err
	}
	token := base64.RawURLEncoding.EncodeToString(raw)
	return token, a.q.PutDevice(ctx, store.PutDeviceParams{Tag: tag, TokenHash: tokenHash(token), MadeBy: who.Name})
}

// SetDeviceToken lets a tool send with a token that is known beforehand: for the stand-ins of a demo.
func (a *App) SetDeviceToken(ctx context.Context, who Actor, tag, token string) error {
	return a.q.PutDevice(ctx, store.PutDeviceParams{Tag: tag, TokenHash: tokenHash(token), MadeBy: who.Name})
}

func tokenHash(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

// LinkDevice admits a device by its token and says which result was the last.
func (a *App) LinkDevice(ctx context.Context, hello device.Message) (lastSeq int, err error) {
	refused := &Problem{Kind: Forbidden, Title: "This device may not send.", Remedy: "Give it a new token in the Crib."}
	if hello.Protocol != device.Protocol {
		return 0, newProblem(Outdated, "The device speaks version %d of the protocol, version %d is spoken here.",
			"Update the device or the server.", hello.Protocol, device.Protocol)
	}
	d, err := a.q.GetDevice(ctx, hello.Tag)
	if none(err) {
		return 0, refused
	}
	if err != nil {
		return 0, err
	}
	if subtle.ConstantTimeCompare([]byte(d.TokenHash), []byte(tokenHash(hello.Token))) != 1 {
		return 0, refused
	}
	return int(d.LastSeq), a.DeviceAlive(ctx, hello)
}

// DeviceAlive notes that a device was heard of, and what it says of itself.
func (a *App) DeviceAlive(ctx context.Context, m device.Message) error {
	m.Token = ""
	about, err := encode(m)
	if err != nil {
		return err
	}
	return a.q.LinkDevice(ctx, store.LinkDeviceParams{Tag: m.Tag, About: about})
}

// TakeResult keeps a numbered result of a device. One that was taken before is acknowledged and not kept twice; one
// that comes before those in front of it is not taken: the answer asks for them first.
func (a *App) TakeResult(ctx context.Context, tag string, m device.Message) (answer device.Message, fresh bool,
	err error) {
	if m.Reading == nil {
		return device.Message{Type: device.Refused, Reason: "the result is empty"}, false, nil
	}
	if err := m.Reading.Check(); err != nil {
		return device.Message{Type: device.Refused, Seq: m.Seq, Reason: err.Error()}, false, nil
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		d, err := q.LockDevice(ctx, tag)
		if err != nil {
			return err
		}
		last := int(d.LastSeq)
		switch {
		case m.Seq <= last:
			answer = device.Message{Type: device.Ack, Seq: last}
			return nil
		case m.Seq > last+1:
			answer = device.Message{Type: device.Resend, Seq: last + 1}
			return nil
		}
		body, err := encode(m.Reading)
		if err != nil {
			return err
		}
		if err := q.InsertDeviceResult(ctx, store.InsertDeviceResultParams{Tag: tag, Seq: int32(m.Seq),
			At: m.Reading.At, Body: body}); err != nil {
			return err
		}
		answer, fresh = device.Message{Type: device.Ack, Seq: m.Seq}, true
		return q.AdvanceDevice(ctx, store.AdvanceDeviceParams{Tag: tag, LastSeq: int32(m.Seq)})
	})
	return answer, fresh, err
}

// DeviceResults gives the results of a device after a number: what a page missed while it was not listening.
func (a *App) DeviceResults(ctx context.Context, tag string, after int) ([]DeviceResult, int, error) {
	d, err := a.q.GetDevice(ctx, tag)
	if none(err) {
		return []DeviceResult{}, 0, nil
	}
	if err != nil || after < 0 { // without a number only how far it is
		return []DeviceResult{}, int(d.LastSeq), err
	}
	rows, err := a.q.DeviceResultsAfter(ctx, store.DeviceResultsAfterParams{Tag: tag, Seq: int32(after)})
	if err != nil {
		return nil, 0, err
	}
	out := []DeviceResult{}
	for _, r := range rows {
		reading, err := decode[device.Reading](r.Body)
		if err != nil {
			return nil, 0, err
		}
		out = append(out, DeviceResult{tag, int(r.Seq), reading})
	}
	return out, int(d.LastSeq), nil
}

// AimDevice tells a linked tool what its next pull is for. Refused: a joint that is not in hand, a tool that is not in
// a hand there, a fastener, pass or setting that is not of its work. Whoever could aim any tool at anything could have
// a bolt torn off.
func (a *App) AimDevice(ctx context.Context, who Actor, tag string, t device.Target) error {
	if _, err := a.q.GetTool(ctx, tag); none(err) {
		return notFound("tool", tag)
	} else if err != nil {
		return err
	}
	j, err := a.q.GetJoint(ctx, t.Joint)
	if none(err) {
		return notFound("joint", t.Joint)
	}
	if err != nil {
		return err
	}
	idle := &Problem{Kind: Conflict, Title: t.Joint + " is not being tightened.", Field: "joint",
		Remedy: "Begin the work on it first."}
	if j.PresentRun == nil {
		return idle
	}
	v, err := a.Run(ctx, j.PresentRun.String())
	if err != nil {
		return err
	}
	if v.Record != "" || v.State.Pass == 0 || v.State.StoppedBy != "" {
		return idle
	}
	hands := v.State.InHand(v.Plan)
	i := slices.IndexFunc(hands, func(h run.Hand) bool { return slices.Contains(h.Tags, tag) })
	switch {
	case i < 0:
		return &Problem{Kind: Conflict, Title: tag + " is not in hand at " + t.Joint + ".", Field: "tag",
			Remedy: "Take it there first."}
	case t.Pass != v.State.Pass:
		return &Problem{Kind: Conflict, Title: fmt.Sprintf("%s is in pass %d.", t.Joint, v.State.Pass), Field: "pass",
			Remedy: "Look at it again."}
	case !slices.Contains(v.Plan.Chalk, t.Fastener):
		return &Problem{Kind: Invalid, Title: fmt.Sprintf("%s has no fastener %d.", t.Joint, t.Fastener),
			Field: "fastener", Remedy: "Look at it again."}
	case t.Unit != hands[i].Unit || math.Abs(t.Set-hands[i].Setting) > 1e-9:
		return &Problem{Kind: Conflict, Title: fmt.Sprintf("%s is set to %s %s here.", tag, text(hands[i].Setting),
			hands[i].Unit.Symbol()), Field: "set", Remedy: "Look at it again."}
	}
	a.tell("tool:"+tag, device.Aim, t)
	return nil
}
