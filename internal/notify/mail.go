package notify

import (
	"context"
	"fmt"
	"net"
	"strconv"
	"time"

	"github.com/wneessen/go-mail"
)

// Mailer sends mail by SMTP. Address "" sends none.
type Mailer struct {
	Address  string // host:port
	From     string
	User     string
	Password string
	// Plain goes without TLS: for the stand-in on this machine alone
	Plain bool
}

// sendWithin is how long one message may take.
const sendWithin = 20 * time.Second

// On reports whether mail is sent at all.
func (m Mailer) On() bool { return m.Address != "" }

// Check refuses an address that cannot be meant, and plain text to another machine.
func (m Mailer) Check() error {
	if !m.On() {
		return nil
	}
	host, port, err := net.SplitHostPort(m.Address)
	if err != nil || host == "" {
		return fmt.Errorf("the mail server %q is not host:port", m.Address)
	}
	if _, err := strconv.Atoi(port); err != nil {
		return fmt.Errorf("the mail server %q has no port", m.Address)
	}
	if ip := net.ParseIP(host); m.Plain && (ip == nil || !ip.IsLoopback()) {
		return fmt.Errorf("mail goes without TLS to this machine alone, not to %s", host)
	}
	if _, err := m.message("a@example.org", "", ""); err != nil {
		return fmt.Errorf("the sender %q is no address: %w", m.From, err)
	}
	return nil
}

func (m Mailer) message(to, subject, body string) (*mail.Msg, error) {
	msg := mail.NewMsg()
	if err := msg.From(m.From); err != nil {
		return nil, err
	}
	if err := msg.To(to); err != nil {
		return nil, err
	}
	msg.Subject(subject)
	msg.SetBodyString(mail.TypeTextPlain, body)
	return msg, nil
}

// Send sends one message.
func (m Mailer) Send(ctx context.Context, to, subject, body string) error {
	msg, err := m.message(to, subject, body)
	if err != nil {
		return err
	}
	host, port, err := net.SplitHostPort(m.Address)
	if err != nil {
		return err
	}
	n, err := strconv.Atoi(port)
	if err != nil {
		return err
	}
	options := []mail.Option{mail.WithPort(n), mail.WithTimeout(sendWithin), mail.WithTLSPolicy(mail.TLSMandatory)}
	if m.Plain {
		options = append(options, mail.WithTLSPolicy(mail.NoTLS))
	}
	if m.User != "" {
		options = append(options, mail.WithSMTPAuth(mail.SMTPAuthPlain), mail.WithUsername(m.User),
			mail.WithPassword(m.Password))
	}
	client, err := mail.NewClient(host, options...)
	if err != nil {
		return err
	}
	return client.DialAndSendWithContext(ctx, msg)
}
