package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"
	"github.com/gin-gonic/gin"

	"dynacor/internal/app"
	"dynacor/internal/device"
	"dynacor/internal/live"
)

// slowestListener is how long a stream's note may take to be read.
const slowestListener = 10 * time.Second

// heartbeat keeps proxies from closing a silent stream.
const heartbeat = 15 * time.Second

// stream tells a page what happens to runs, tools and shifts, as server-sent events, until the page goes.
func (s *server) stream(c *gin.Context) {
	if s.live == nil {
		problem(c, Problem{Title: "Live updates are off.", Status: http.StatusServiceUnavailable})
		return
	}
	var topics []string
	for _, v := range c.QueryArray("run") {
		topics = append(topics, "run:"+v)
	}
	for _, v := range c.QueryArray("tool") {
		topics = append(topics, "tool:"+v)
	}
	for _, v := range c.QueryArray("shift") {
		topics = append(topics, "shift:"+v)
	}
	if len(topics) == 0 || len(topics) > 20 {
		problem(c, Problem{Title: "Name one to twenty runs, tools or shifts of work packages.",
			Status: http.StatusBadRequest})
		return
	}
	who := actor(c.Request.Context())
	leave, ok := s.streams.enter(who.Login)
	if !ok {
		remedy := "Close some of the pages."
		problem(c, Problem{Title: "Too many pages listen at once.", Status: http.StatusTooManyRequests,
			Remedy: &remedy})
		return
	}
	defer leave()
	end := app.LoginTopic(who.Login)
	notes, stop := s.live.Subscribe(append(topics, end)...)
	defer stop()
	h := c.Writer.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("Cache-Control", "no-store")
	h.Set("X-Accel-Buffering", "no")
	c.Writer.WriteHeader(http.StatusOK)
	rc := http.NewResponseController(c.Writer)
	send := func(text string) bool {
		_ = rc.SetWriteDeadline(time.Now().Add(slowestListener)) // one who never reads is cut
		if _, err := c.Writer.WriteString(text); err != nil {
			return false
		}
		c.Writer.Flush()
		return true
	}
	ok = send("event: open\ndata: {}\n\n")
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	for ok {
		select {
		case <-c.Request.Context().Done():
			return
		case <-beat.C:
			if _, err := s.app.Who(c.Request.Context(), who.Login); err != nil {
				if _, ended := app.AsProblem(err); ended {
					return
				}
			}
			ok = send(": still here\n\n")
		case n := <-notes:
			if n.Topic == end { // signed out, or a new PIN: nothing more is told here
				return
			}
			ok = send(fmt.Sprintf("event: note\ndata: %s\n\n", n.Text()))
		}
	}
}

// Streams that one sign-in may have open, and all together.
const (
	mostStreamsEach = 8
	mostStreams     = 4_000
)

// streams counts who listens.
type streams struct {
	mu   sync.Mutex
	each map[string]int
	all  int
}

func (s *streams) enter(login string) (leave func(), ok bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.each[login] >= mostStreamsEach || s.all >= mostStreams {
		return nil, false
	}
	if s.each == nil {
		s.each = map[string]int{}
	}
	s.each[login]++
	s.all++
	return func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		s.all--
		if s.each[login]--; s.each[login] == 0 {
			delete(s.each, login)
		}
	}, true
}

// helloWithin is how long a device has to say who it is.
const helloWithin = 10 * time.Second

// link talks to a device that sends what it measures.
func (s *server) link(c *gin.Context) {
	ws, err := websocket.Accept(c.Writer, c.Request, nil)
	if err != nil {
		return // Accept has answered
	}
	defer ws.CloseNow() //nolint:errcheck // the link is over either way
	ws.SetReadLimit(device.MostMessage)
	ctx, cancel := context.WithCancel(c.Request.Context())
	defer cancel()
	tag, err := s.hello(ctx, ws)
	if err != nil {
		text := "the first message was not read"
		if p, ok := app.AsProblem(err); ok {
			text = p.Error()
		}
		_ = wsjson.Write(ctx, ws, device.Message{Type: device.Refused, Reason: text})
		_ = ws.Close(websocket.StatusPolicyViolation, "refused")
		return
	}
	aims, stop := s.subscribe("tool:" + tag)
	defer stop()
	go func() { // what the next pull is for
		for {
			select {
			case <-ctx.Done():
				return
			case n := <-aims:
				var t device.Target
				if n.Kind == device.Aim && json.Unmarshal(n.Data, &t) == nil {
					_ = wsjson.Write(ctx, ws, device.Message{Type: device.Aim, Target: &t})
				}
			}
		}
	}()
	for {
		_, data, err := ws.Read(ctx)
		if err != nil {
			s.publish("tool:"+tag, "gone", nil)
			return
		}
		m, err := device.Read(data)
		if err != nil {
			_ = wsjson.Write(ctx, ws, device.Message{Type: device.Refused, Reason: err.Error()})
			continue
		}
		m.Tag = tag
		if err := s.heard(ctx, ws, m); err != nil {
			s.log.Warn("a device's message was not taken", "tool", tag, "type", m.Type, "error", err)
			return
		}
	}
}

// hello reads the first message and admits the device.
func (s *server) hello(ctx context.Context, ws *websocket.Conn) (tag string, err error) {
	within, cancel := context.WithTimeout(ctx, helloWithin)
	defer cancel()
	_, data, err := ws.Read(within)
	if err != nil {
		return "", err
	}
	m, err := device.Read(data)
	if err != nil || m.Type != device.Hello {
		return "", fmt.Errorf("httpapi: a device began with %q", m.Type)
	}
	last, err := s.app.LinkDevice(ctx, m)
	if err != nil {
		return "", err
	}
	s.publish("tool:"+m.Tag, device.Status, map[string]any{"linked": true})
	return m.Tag, wsjson.Write(ctx, ws, device.Message{Type: device.Welcome, Protocol: device.Protocol, Seq: last})
}

// heard acts on a message of an admitted device.
func (s *server) heard(ctx context.Context, ws *websocket.Conn, m device.Message) error {
	topic := "tool:" + m.Tag
	switch m.Type {
	case device.Status:
		s.publish(topic, device.Status, map[string]any{"linked": true, "batteryPct": m.Battery})
		return s.app.DeviceAlive(ctx, m)
	case device.Sample:
		if m.Live != nil {
			s.publish(topic, device.Sample, m.Live)
		}
	case device.Result:
		answer, fresh, err := s.app.TakeResult(ctx, m.Tag, m)
		if err != nil {
			return err
		}
		if fresh {
			s.publish(topic, device.Result, app.DeviceResult{Tag: m.Tag, Seq: m.Seq, Reading: *m.Reading})
		}
		return wsjson.Write(ctx, ws, answer)
	default:
		return wsjson.Write(ctx, ws,
			device.Message{Type: device.Refused,
				Reason: "the message type " + strings.TrimSpace(m.Type) + " is not known"})
	}
	return nil
}

func (s *server) publish(topic, kind string, data any) {
	if s.live != nil {
		s.live.Publish(topic, kind, data)
	}
}

func (s *server) subscribe(topic string) (<-chan live.Note, func()) {
	if s.live == nil {
		return nil, func() {}
	}
	return s.live.Subscribe(topic)
}
