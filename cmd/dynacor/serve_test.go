package main

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"encoding/pem"
	"math/big"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/store/storetest"
)

func TestTransport(t *testing.T) {
	for addr, here := range map[string]bool{"127.0.0.1:8080": true, "localhost:80": true, "[::1]:80": true,
		"0.0.0.0:80": false, ":80": false, "10.0.0.3:80": false, "[::]:80": false, "site.example:443": false,
		"127.0.0.1": false} {
		require.Equal(t, here, loopback(addr), addr)
	}
	for name, c := range map[string]struct {
		serve  serveCmd
		secure bool
		says   string
	}{
		"this machine alone":        {serveCmd{Addr: "127.0.0.1:80"}, false, ""},
		"network without TLS":       {serveCmd{Addr: ":80"}, false, "could not prove who recorded"},
		"network, knowingly":        {serveCmd{Addr: ":80", WithoutTLS: true}, false, ""},
		"network with certificate":  {serveCmd{Addr: ":443", TLSCert: "c", TLSKey: "k"}, true, ""},
		"half a certificate":        {serveCmd{Addr: ":443", TLSCert: "c"}, false, "belong together"},
		"behind a proxy":            {serveCmd{Addr: ":80", Proxy: []string{"10.0.0.1"}}, true, ""},
		"the flag where it is none": {serveCmd{Addr: "127.0.0.1:80", WithoutTLS: true}, false, "this is none"},
	} {
		secure, err := c.serve.transport()
		require.Equal(t, c.secure, secure, name)
		if c.says == "" {
			require.NoError(t, err, name)
		} else {
			require.ErrorContains(t, err, c.says, name)
		}
	}
}

// From an empty database to one that may be served, by the commands alone; each says what is missing.
func TestSetUpByTheCommands(t *testing.T) {
	owner, dir := storetest.Empty(t, "set_up_by_commands"), t.TempDir()
	env := []string{"DYNACOR_DATABASE_URL=" + owner}
	run := func(wantCode int, says string, args ...string) string {
		t.Helper()
		out, errs, code := shell(t, "", env, args...)
		require.Equal(t, wantCode, code, "%v: %s %s", args, out, errs)
		require.Contains(t, out+errs, says, "%v", args)
		return out
	}
	run(1, "run dynacor migrate", "key", "list")
	run(1, "name the file of the signing key", "migrate")
	key := filepath.Join(dir, "site.key")
	run(1, "give --key-secret FILE", "migrate", "--key", key)
	secret := filepath.Join(dir, "secret")
	require.NoError(t, os.WriteFile(secret, []byte("of some length, in a file"), 0o600))
	env = append(env, "DYNACOR_KEY="+key, "DYNACOR_KEY_SECRET="+secret)
	run(0, "Records are sealed with key", "migrate")
	run(1, "password of 8 characters", "migrate", "--serve-as", "dynacor_cmd_server", "--serve-password", "short")
	run(0, "dynacor_cmd_server may serve", "migrate", "--serve-as", "dynacor_cmd_server", "--serve-password",
		"long enough to be one")
	run(1, "owns the database", "serve", "--addr", "127.0.0.1:0")
	run(1, "could not prove who recorded", "serve", "--addr", ":0")
	run(0, "can sign in as engineer", "user", "add", "E. Marsh", "engineer", "--pin", "9071")
	run(1, "first that anybody would try", "user", "pin", "E. Marsh", "--pin", "1234")
	run(0, "is inspector from the next sign-in", "user", "role", "E. Marsh", "inspector")
	run(0, "cannot sign in any more", "user", "retire", "E. Marsh")
	run(0, "can sign in again", "user", "return", "E. Marsh")
	require.Len(t, strings.Split(strings.TrimSpace(run(0, "from 2", "key", "list")), "\n"), 1)
	next := filepath.Join(dir, "next.key")
	run(0, "takes the place of", "key", "rotate", "--new", next, "--reason", "yearly")
	list := strings.Split(strings.TrimSpace(run(0, " to 2", "key", "list")), "\n")
	require.Len(t, list, 2)
	id := strings.Fields(list[0])[0]
	run(0, "is believed", "key", "revoke", id, "--from", "2026-01-01T00:00:00Z", "--reason", "the laptop was stolen")
	run(0, "the laptop was stolen", "key", "list")
	u, err := url.Parse(owner)
	require.NoError(t, err)
	u.User = url.UserPassword("dynacor_cmd_server", "long enough to be one")
	env[0] = "DYNACOR_DATABASE_URL=" + u.String()
	run(1, "out of use", "serve", "--addr", "127.0.0.1:0")
	run(1, "permission denied", "key", "revoke", id, "--from", "2026-01-01T00:00:00Z", "--reason", "x")
}

// Two that set up and serve one empty database at once both come up; one of them over TLS of its own, with the header
// that keeps browsers to it.
func TestTwoServeOneEmptyDatabase(t *testing.T) {
	owner, dir := storetest.Empty(t, "two_serve_one"), t.TempDir()
	cert, certKey := selfSigned(t, dir)
	secret := filepath.Join(dir, "secret")
	require.NoError(t, os.WriteFile(secret, []byte("of some length, in a file"), 0o600))
	u, err := url.Parse(owner)
	require.NoError(t, err)
	u.User = url.UserPassword("dynacor_two_server", "long enough to be one")
	env := append(os.Environ(), runAsProgram+"=1", "DYNACOR_KEY="+filepath.Join(dir, "site.key"),
		"DYNACOR_KEY_SECRET="+secret)
	self, err := os.Executable()
	require.NoError(t, err)
	var wg sync.WaitGroup
	bases := []string{"http", "https"}
	for i, scheme := range bases {
		ln, err := net.Listen("tcp", "127.0.0.1:0")
		require.NoError(t, err)
		addr := ln.Addr().String()
		require.NoError(t, ln.Close())
		bases[i] = scheme + "://" + addr
		wg.Go(func() {
			migrate := exec.Command(self, "migrate", "--database-url", owner, "--serve-as", "dynacor_two_server",
				"--serve-password", "long enough to be one")
			migrate.Env = env
			out, err := migrate.CombinedOutput()
			if err != nil {
				t.Errorf("%v: %s", err, out)
				return
			}
			args := []string{"serve", "--database-url", u.String(), "--addr", addr}
			if scheme == "https" {
				args = append(args, "--tls-cert", cert, "--tls-key", certKey)
			}
			cmd := exec.Command(self, args...)
			cmd.Env = env
			cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
			if err := cmd.Start(); err != nil {
				t.Error(err)
				return
			}
			t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
		})
	}
	wg.Wait()
	c := http.Client{Timeout: 3 * time.Second,
		Transport: &http.Transport{TLSClientConfig: &tls.Config{InsecureSkipVerify: true}}} //nolint:gosec // it was made a moment ago
	for _, base := range bases {
		var res *http.Response
		require.Eventually(t, func() bool {
			var err error
			if res, err = c.Get(base + "/readyz"); err != nil {
				return false
			}
			_ = res.Body.Close()
			return res.StatusCode == http.StatusOK
		}, 30*time.Second, 100*time.Millisecond, base)
		require.Equal(t, strings.HasPrefix(base, "https"), res.Header.Get("Strict-Transport-Security") != "", base)
	}
}

// selfSigned makes a certificate for this machine.
func selfSigned(t *testing.T, dir string) (cert, key string) {
	t.Helper()
	k, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	of := &x509.Certificate{SerialNumber: big.NewInt(1), NotBefore: time.Now().Add(-time.Hour),
		NotAfter: time.Now().Add(time.Hour), IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}}
	der, err := x509.CreateCertificate(rand.Reader, of, of, &k.PublicKey, k)
	require.NoError(t, err)
	kder, err := x509.MarshalECPrivateKey(k)
	require.NoError(t, err)
	cert, key = filepath.Join(dir, "cert.pem"), filepath.Join(dir, "key.pem")
	require.NoError(t, os.WriteFile(cert, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), 0o600))
	require.NoError(t, os.WriteFile(key, pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: kder}), 0o600))
	return cert, key
}
