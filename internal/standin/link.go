package standin

import (
	"context"
	"net/url"
	"strings"
	"time"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"

	"dynacor/internal/device"
)

// Times of the link: how often a pull is shown, how often the device says that it lives, how long it waits for an
// acknowledgement before it sends again, and before it dials anew.
type times struct{ sample, status, again, redial time.Duration }

var usual = times{100 * time.Millisecond, 5 * time.Second, 2 * time.Second, time.Second}

// address of the WebSocket of a server given as http://host:port.
func address(server string) (string, error) {
	u, err := url.Parse(server)
	if err != nil {
		return "", err
	}
	u.Scheme = strings.Replace(u.Scheme, "http", "ws", 1)
	u.Path = device.Path
	return u.String(), nil
}

// Run links the tool to a server until ctx ends, dialling again after every loss.
func (t *Tool) Run(ctx context.Context, server string) error { return t.run(ctx, server, usual) }

func (t *Tool) run(ctx context.Context, server string, at times) error {
	addr, err := address(server)
	if err != nil {
		return err
	}
	for ctx.Err() == nil {
		if !t.State().Faults.LostLink {
			t.session(ctx, addr, at)
		}
		t.mu.Lock()
		t.state.Linked = false
		t.mu.Unlock()
		select {
		case <-ctx.Done():
		case <-time.After(at.redial):
		}
	}
	return nil
}

// session is one connection from hello to its loss.
func (t *Tool) session(ctx context.Context, addr string, at times) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	ws, _, err := websocket.Dial(ctx, addr, nil)
	if err != nil {
		t.mu.Lock()
		t.state.Problem = "no answer from the server"
		t.mu.Unlock()
		return
	}
	defer ws.CloseNow() //nolint:errcheck // the link is over either way
	ws.SetReadLimit(device.MostMessage)
	hello := device.Message{Type: device.Hello, Protocol: device.Protocol, Tag: t.cfg.Tag, Token: t.cfg.Token,
		Kind: string(t.cfg.Kind), Serial: "stand-in"}
	if wsjson.Write(ctx, ws, hello) != nil {
		return
	}
	go func() {
		defer cancel()
		for {
			var m device.Message
			if err := wsjson.Read(ctx, ws, &m); err != nil {
				return
			}
			t.heard(m)
			if m.Type == device.Welcome {
				t.nudge()
			}
		}
	}()
	sample, status, again := time.NewTicker(at.sample), time.NewTicker(at.status), time.NewTicker(at.again)
	defer sample.Stop()
	defer status.Stop()
	defer again.Stop()
	pulling := false
	for {
		var send []device.Message
		select {
		case <-ctx.Done():
			return
		case <-sample.C:
			if now := t.State().Pulling; now || pulling {
				pulling = now
				send = []device.Message{t.sample()}
			}
		case <-status.C:
			send = []device.Message{t.status()}
		case <-again.C:
			send = t.outgoing(true)
		case <-t.wake:
			send = t.outgoing(false)
		}
		if t.State().Faults.LostLink {
			return
		}
		if !t.State().Linked {
			continue
		}
		for _, m := range send {
			if wsjson.Write(ctx, ws, m) != nil {
				return
			}
		}
	}
}

func (t *Tool) status() device.Message {
	t.mu.Lock()
	defer t.mu.Unlock()
	b := t.battery()
	return device.Message{Type: device.Status, Battery: &b}
}
