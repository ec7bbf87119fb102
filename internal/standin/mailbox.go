package standin

import (
	"io"
	"net"
	"sync"
	"time"

	"github.com/emersion/go-smtp"
)

// Mail is a message that the mailbox took.
type Mail struct {
	From string
	To   []string
	Text string // head and body as they were sent
	At   time.Time
}

// mostMail that is kept, the newest.
const mostMail = 200

// Mailbox takes mail as a mail server does and sends none on: to try, to teach, to test.
type Mailbox struct {
	server *smtp.Server
	onMail func(Mail)
	mu     sync.Mutex
	kept   []Mail
}

// NewMailbox makes a mailbox; onMail is told of each message, nil: nobody is.
func NewMailbox(onMail func(Mail)) *Mailbox {
	b := &Mailbox{onMail: onMail}
	b.server = smtp.NewServer(b)
	b.server.Domain = "localhost"
	b.server.ReadTimeout, b.server.WriteTimeout = 10*time.Second, 10*time.Second
	b.server.MaxMessageBytes, b.server.MaxRecipients = 1<<20, 50
	return b
}

// Serve takes mail until the listener is closed.
func (b *Mailbox) Serve(ln net.Listener) error { return b.server.Serve(ln) }

// Close ends it.
func (b *Mailbox) Close() error { return b.server.Close() }

// Mails gives what came, the oldest first.
func (b *Mailbox) Mails() []Mail {
	b.mu.Lock()
	defer b.mu.Unlock()
	return append([]Mail{}, b.kept...)
}

// NewSession begins a conversation.
func (b *Mailbox) NewSession(*smtp.Conn) (smtp.Session, error) { return &letter{box: b}, nil }

// letter is a message that is being taken.
type letter struct {
	box *Mailbox
	now Mail
}

// Reset begins anew.
func (l *letter) Reset() { l.now = Mail{} }

// Logout ends the conversation.
func (l *letter) Logout() error { return nil }

// Mail takes the sender.
func (l *letter) Mail(from string, _ *smtp.MailOptions) error {
	l.now.From = from
	return nil
}

// Rcpt takes somebody it is for.
func (l *letter) Rcpt(to string, _ *smtp.RcptOptions) error {
	l.now.To = append(l.now.To, to)
	return nil
}

// Data takes the message.
func (l *letter) Data(r io.Reader) error {
	text, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	l.now.Text, l.now.At = string(text), time.Now()
	l.box.mu.Lock()
	l.box.kept = append(l.box.kept, l.now)
	if n := len(l.box.kept); n > mostMail {
		l.box.kept = l.box.kept[n-mostMail:]
	}
	l.box.mu.Unlock()
	if l.box.onMail != nil {
		l.box.onMail(l.now)
	}
	return nil
}
