// Package pgcluster runs a private PostgreSQL from Debian's binaries on loopback, as a child that ends with this
// process. It is for the demo and for tests; a site gives its own server instead.
package pgcluster

import (
	"bytes"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
)

// Config says where the cluster lives and how careful it is.
type Config struct {
	DataDir string // created when missing; its parents must be searchable by the server's account
	Durable bool   // fsync and friends on; tests leave them off
	Port    int    // 0: a free one
}

// Server is a running cluster.
type Server struct {
	Port     int
	password string
	dir      string
	cmd      *exec.Cmd
	done     chan struct{}
	err      error
}

// find gives the newest directory that holds initdb and postgres.
func find() (string, error) {
	if d := os.Getenv("DYNACOR_PG_BIN"); d != "" {
		return d, nil
	}
	dirs, _ := filepath.Glob("/usr/lib/postgresql/*/bin")
	slices.SortFunc(dirs, func(a, b string) int { return version(b) - version(a) })
	for _, d := range dirs {
		if _, err := os.Stat(filepath.Join(d, "initdb")); err == nil {
			return d, nil
		}
	}
	if p, err := exec.LookPath("initdb"); err == nil {
		return filepath.Dir(p), nil
	}
	return "", errors.New("PostgreSQL is not installed. Install it with: apt-get install postgresql (or set " +
		"DYNACOR_PG_BIN to the directory of initdb)")
}

// Program finds one of PostgreSQL's own programs: on the path, or beside the newest server.
func Program(name string) (string, error) {
	if dir, err := find(); err == nil {
		if p := filepath.Join(dir, name); isFile(p) {
			return p, nil
		}
	}
	p, err := exec.LookPath(name)
	if err != nil {
		return "", fmt.Errorf("%s is not installed. Install it with: apt-get install postgresql-client", name)
	}
	return p, nil
}

func isFile(path string) bool {
	fi, err := os.Stat(path)
	return err == nil && fi.Mode().IsRegular()
}

func version(dir string) int {
	n, _ := strconv.Atoi(filepath.Base(filepath.Dir(dir)))
	return n
}

// account gives the ids the server runs under: never root.
func account() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	for _, name := range []string{"postgres", "nobody"} {
		if u, err := user.Lookup(name); err == nil {
			uid, _ := strconv.ParseUint(u.Uid, 10, 32)
			gid, _ := strconv.ParseUint(u.Gid, 10, 32)
			return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
		}
	}
	return nil, errors.New("started as root, and there is no account named postgres or nobody to run PostgreSQL " +
		"under. Start it as an ordinary user")
}

// searchable says which parent keeps the account out.
func searchable(dir string, c *syscall.Credential) error {
	if c == nil {
		return nil
	}
	for p := filepath.Dir(dir); ; p = filepath.Dir(p) {
		fi, err := os.Stat(p)
		if err != nil {
			return err
		}
		st, ok := fi.Sys().(*syscall.Stat_t)
		m := fi.Mode().Perm()
		if ok && m&0o001 == 0 && !(st.Uid == c.Uid && m&0o100 != 0) && !(st.Gid == c.Gid && m&0o010 != 0) {
			return fmt.Errorf("the folder %s is closed to the account PostgreSQL runs under. Set DYNACOR_DATA to a "+
				"folder elsewhere, for example DYNACOR_DATA=/var/tmp/dynacor", p)
		}
		if p == "/" || p == "." {
			return nil
		}
	}
}

// environment without what initdb and postgres would read.
func environment() []string {
	out := []string{"LC_ALL=C.UTF-8"}
	for _, kv := range os.Environ() {
		if !strings.HasPrefix(kv, "PG") && !strings.HasPrefix(kv, "LC_") && !strings.HasPrefix(kv, "LANG") {
			out = append(out, kv)
		}
	}
	return out
}

// Start makes the cluster when it is missing and starts the server on a free port of loopback.
func Start(ctx context.Context, cfg Config) (*Server, error) {
	bin, err := find()
	if err != nil {
		return nil, err
	}
	dir, err := filepath.Abs(cfg.DataDir)
	if err != nil {
		return nil, err
	}
	cred, err := account()
	if err != nil {
		return nil, err
	}
	if err := os.MkdirAll(filepath.Dir(dir), 0o755); err != nil {
		return nil, err
	}
	if err := searchable(dir, cred); err != nil {
		return nil, err
	}
	if err := waitForOld(ctx, dir); err != nil {
		return nil, err
	}
	s := &Server{dir: dir}
	if s.password, err = initialise(ctx, bin, dir, cfg, cred); err != nil {
		return nil, err
	}
	for try := 0; ; try++ { // the free port may be taken between looking and binding
		if err = s.launch(ctx, bin, cfg, cred); err == nil {
			return s, nil
		}
		if try == 2 || !strings.Contains(err.Error(), "could not bind") && !strings.Contains(err.Error(),
			"Address already in use") {
			return nil, fmt.Errorf("PostgreSQL did not start in %s: %w\nIf the folder is broken, make demo-reset "+
				"starts over (the demo data is made anew)", dir, err)
		}
	}
}

// oldWait is how long a server that still runs on the folder may take to end.
const oldWait = 30 * time.Second

// waitForOld waits for a server that was started on the folder before and is still shutting down: its pid file names a
// process that is there. A file left by a server that was killed names none, or another program, and the new server
// sees to it.
func waitForOld(ctx context.Context, dir string) error {
	for end := time.Now().Add(oldWait); ; {
		text, err := os.ReadFile(filepath.Join(dir, "postmaster.pid"))
		if err != nil {
			return nil
		}
		pid, err := strconv.Atoi(strings.TrimSpace(strings.SplitN(string(text), "\n", 2)[0]))
		if err != nil || pid <= 0 {
			return nil
		}
		name, err := os.ReadFile(fmt.Sprintf("/proc/%d/comm", pid))
		if err != nil || strings.TrimSpace(string(name)) != "postgres" {
			return nil
		}
		if time.Now().After(end) {
			return fmt.Errorf("a PostgreSQL (process %d) still runs on %s. If the demo runs in another window, use "+
				"that one, or stop it there first", pid, dir)
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(100 * time.Millisecond):
		}
	}
}

func initialise(ctx context.Context, bin, dir string, cfg Config, cred *syscall.Credential) (string, error) {
	secret := dir + ".password" // beside the data directory, which initdb wants empty
	if _, err := os.Stat(filepath.Join(dir, "PG_VERSION")); errors.Is(err, fs.ErrNotExist) {
		if list, err := os.ReadDir(dir); err == nil && len(list) > 0 {
			return "", fmt.Errorf("the folder %s holds something that is not a PostgreSQL cluster, or one that was "+
				"cut short. make demo-reset starts over", dir)
		}
		if err := os.MkdirAll(dir, 0o700); err != nil {
			return "", err
		}
		if err := os.WriteFile(secret, []byte(rand.Text()+"\n"), 0o600); err != nil {
			return "", err
		}
		if cred != nil {
			for _, p := range []string{dir, secret} {
				if err := os.Chown(p, int(cred.Uid), int(cred.Gid)); err != nil {
					return "", err
				}
			}
		}
		args := []string{"-D", dir, "-U", "postgres", "-E", "UTF8", "--locale=C.UTF-8", "-A", "scram-sha-256",
			"--pwfile=" + secret, "--no-instructions"}
		if !cfg.Durable {
			args = append(args, "--no-sync")
		}
		c := exec.CommandContext(ctx, filepath.Join(bin, "initdb"), args...)
		c.Dir, c.Env, c.SysProcAttr = "/", environment(), &syscall.SysProcAttr{Credential: cred}
		if out, err := c.CombinedOutput(); err != nil {
			return "", fmt.Errorf("PostgreSQL could not make its cluster in %s: %w\n%s", dir, err, bytes.TrimSpace(out))
		}
	}
	pw, err := os.ReadFile(secret)
	if err != nil {
		return "", fmt.Errorf("the cluster's password is gone (%w). make demo-reset starts over", err)
	}
	return strings.TrimSpace(string(pw)), nil
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

func (s *Server) launch(ctx context.Context, bin string, cfg Config, cred *syscall.Credential) error {
	port := cfg.Port
	if port == 0 {
		var err error
		if port, err = freePort(); err != nil {
			return err
		}
	}
	s.Port, s.done = port, make(chan struct{})
	args := []string{"-D", s.dir}
	// Debian's socket directory is closed to ordinary users: TCP on loopback only.
	set := []string{"listen_addresses=127.0.0.1", "port=" + strconv.Itoa(port), "unix_socket_directories=",
		"timezone=UTC", "log_timezone=UTC"}
	if !cfg.Durable {
		set = append(set, "fsync=off", "full_page_writes=off", "synchronous_commit=off", "max_wal_size=4GB",
			"checkpoint_timeout=1h", "autovacuum=off", "wal_level=minimal", "max_wal_senders=0", "max_connections=200")
	}
	for _, kv := range set {
		args = append(args, "-c", kv)
	}
	s.cmd = exec.Command(filepath.Join(bin, "postgres"), args...)
	s.cmd.Dir, s.cmd.Env = "/", environment()
	var said bytes.Buffer
	s.cmd.Stderr = &said
	s.cmd.SysProcAttr = &syscall.SysProcAttr{
		Credential: cred,
		Setpgid:    true,           // Ctrl-C must not reach the server before this program
		Pdeathsig:  syscall.SIGINT, // a fast shutdown even when this process is killed
	}
	started := make(chan error, 1)
	go func() {
		runtime.LockOSThread() // Pdeathsig follows the thread that forked: keep it for the server's life
		defer runtime.UnlockOSThread()
		if err := s.cmd.Start(); err != nil {
			started <- err
			return
		}
		started <- nil
		s.err = s.cmd.Wait()
		close(s.done)
	}()
	if err := <-started; err != nil {
		return err
	}
	deadline := time.NewTimer(60 * time.Second) // recovery after a kill takes a while
	defer deadline.Stop()
	for {
		if c, err := pgx.Connect(ctx, s.URL("postgres")); err == nil {
			return c.Close(ctx)
		}
		select {
		case <-s.done:
			return fmt.Errorf("%w: %s", s.err, bytes.TrimSpace(said.Bytes()))
		case <-deadline.C:
			return errors.Join(errors.New("not ready after a minute"), s.Stop())
		case <-ctx.Done():
			return errors.Join(ctx.Err(), s.Stop())
		case <-time.After(10 * time.Millisecond):
		}
	}
}

// URL gives the connection string of a database in the cluster, as its owner.
func (s *Server) URL(db string) string { return s.URLAs(db, "postgres", s.password) }

// URLAs gives it for another account.
func (s *Server) URLAs(db, account, password string) string {
	u := url.URL{Scheme: "postgres", User: url.UserPassword(account, password),
		Host: net.JoinHostPort("127.0.0.1", strconv.Itoa(s.Port)), Path: "/" + db, RawQuery: "sslmode=disable"}
	return u.String()
}

// Running gives the address of a database in the cluster that some program runs on a folder. Refused: a folder on which
// none runs.
func Running(dir, db string) (string, error) {
	idle := fmt.Errorf("no demo runs on %s: start it with make demo", filepath.Dir(dir))
	pid, err := os.ReadFile(filepath.Join(dir, "postmaster.pid"))
	if err != nil {
		return "", idle
	}
	lines := strings.Split(string(pid), "\n")
	if len(lines) < 4 {
		return "", idle
	}
	port, err := strconv.Atoi(strings.TrimSpace(lines[3]))
	if err != nil {
		return "", idle
	}
	pw, err := os.ReadFile(dir + ".password")
	if err != nil {
		return "", err
	}
	s := Server{Port: port, password: strings.TrimSpace(string(pw))}
	return s.URL(db), nil
}

// Done is closed when the server has ended.
func (s *Server) Done() <-chan struct{} { return s.done }

// Kill ends the server at once, as a power cut would. For tests of what survives.
func (s *Server) Kill() error {
	err := s.cmd.Process.Kill()
	<-s.done
	return err
}

// Stop shuts the server down, at once when it does not listen.
func (s *Server) Stop() error {
	_ = s.cmd.Process.Signal(syscall.SIGINT)
	for _, next := range []os.Signal{syscall.SIGQUIT, syscall.SIGKILL} {
		select {
		case <-s.done:
			return nil
		case <-time.After(15 * time.Second):
			_ = s.cmd.Process.Signal(next)
		}
	}
	<-s.done
	return nil
}
