package main

import (
	"context"
	"fmt"
	"net"
	"os"
	"path/filepath"
	"strings"

	"dynacor/internal/app"
	"dynacor/internal/notify"
	"dynacor/internal/standin"
)

// mailing are the flags of the mail server.
type mailing struct {
	SMTP         string `name:"smtp" help:"Mail server as host:port, to send what falls due in the morning. Without one no mail is sent." env:"DYNACOR_SMTP"`
	SMTPFrom     string `name:"smtp-from" help:"Address that mail comes from." env:"DYNACOR_SMTP_FROM"`
	SMTPUser     string `name:"smtp-user" help:"Name to sign in to the mail server with." env:"DYNACOR_SMTP_USER"`
	SMTPPassword string `name:"smtp-password" help:"File of the password of that name." env:"DYNACOR_SMTP_PASSWORD" type:"path"`
	SMTPPlain    bool   `name:"smtp-plain" help:"Without TLS, to the stand-in on this machine alone." env:"DYNACOR_SMTP_PLAIN"`
}

func (m mailing) mailer() (notify.Mailer, error) {
	out := notify.Mailer{Address: m.SMTP, From: m.SMTPFrom, User: m.SMTPUser, Plain: m.SMTPPlain}
	if m.SMTPPassword != "" {
		data, err := os.ReadFile(m.SMTPPassword)
		if err != nil {
			return out, fmt.Errorf("the password of the mail server: %w", err)
		}
		out.Password = strings.TrimSpace(string(data))
	}
	return out, out.Check()
}

type mailboxCmd struct {
	Addr string `help:"Address to take mail on." default:"127.0.0.1:2525" env:"DYNACOR_MAILBOX_ADDR"`
	Dir  string `help:"Folder that mail is written to." default:"mail" type:"path"`
}

// Run takes mail until it is stopped, a file each.
func (c mailboxCmd) Run(ctx context.Context) error {
	if !loopback(c.Addr) {
		return fmt.Errorf("%s is an address of the network; this stand-in takes mail of this machine alone", c.Addr)
	}
	ln, err := listen(c.Addr)
	if err != nil {
		return err
	}
	fmt.Printf("Mail that comes to %s is written to %s\n", ln.Addr(), c.Dir)
	return takeMail(ctx, ln, c.Dir)
}

// takeMail lets a mailbox write what comes to a folder, until the context ends.
func takeMail(ctx context.Context, ln net.Listener, dir string) error {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return err
	}
	box := standin.NewMailbox(func(m standin.Mail) {
		name := m.At.UTC().Format("20060102-150405.000000000") + ".eml"
		if err := os.WriteFile(filepath.Join(dir, name), []byte(m.Text), 0o600); err != nil {
			fmt.Fprintln(os.Stderr, "mail was not written:", err)
			return
		}
		fmt.Printf("mail to %s: %s\n", strings.Join(m.To, ", "), filepath.Join(dir, name))
	})
	failed := make(chan error, 1)
	go func() { failed <- box.Serve(ln) }()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
		return box.Close()
	}
}

// demoMail has the demo send its mail to a mailbox of its own.
func demoMail(ctx context.Context, a *app.App, dir string) error {
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	a.SetMailer(notify.Mailer{Address: ln.Addr().String(), From: "dynacor@tarn-skerry.example", Plain: true})
	go func() { _ = takeMail(ctx, ln, dir) }()
	return nil
}
