package docs

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/store/storetest"
)

// The commands that the page on operations gives do what it says, in their order, on an empty PostgreSQL.
func TestOperationsAreTrueToTheLetter(t *testing.T) {
	text, err := os.ReadFile("operations.md")
	require.NoError(t, err)
	ctx, dir := context.Background(), t.TempDir()
	out, err := exec.Command("go", "build", "-o", filepath.Join(dir, "dynacor"), "../cmd/dynacor").CombinedOutput()
	require.NoError(t, err, string(out))
	first, _, stop, err := storetest.Cluster(ctx, false)
	require.NoError(t, err)
	t.Cleanup(stop)
	second, _, stop2, err := storetest.Cluster(ctx, false)
	require.NoError(t, err)
	t.Cleanup(stop2)
	const password = "long enough to be one"
	serving, err := url.Parse(first.URLAs("postgres", "dynacor_server", password))
	require.NoError(t, err)
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	_, port, err := net.SplitHostPort(ln.Addr().String())
	require.NoError(t, err)
	require.NoError(t, ln.Close())
	keys := filepath.Join(dir, "keys")
	require.NoError(t, os.Mkdir(keys, 0o700))
	env := append(os.Environ(), "PATH="+dir+":"+os.Getenv("PATH"), "OWNER="+first.URL("postgres"),
		"EMPTY="+second.URL("postgres"), "SERVER="+serving.String(), "SERVE_PASSWORD="+password, "KEYS="+keys,
		"PORT="+port)

	exports := "" // what earlier blocks have set
	blocks := regexp.MustCompile("(?ms)^```sh( serve)?\n(.*?)^```").FindAllStringSubmatch(string(text), -1)
	require.Greater(t, len(blocks), 6)
	for _, b := range blocks {
		script := "set -euo pipefail\n" + exports + b[2]
		cmd := exec.Command("bash", "-c", script)
		cmd.Env = env
		if b[1] == "" {
			out, err := cmd.CombinedOutput()
			require.NoError(t, err, "%s\n%s", b[2], out)
		} else {
			served(t, cmd, port)
		}
		for _, l := range strings.Split(b[2], "\n") {
			if strings.HasPrefix(l, "export ") {
				exports += l + "\n"
			}
		}
	}
}

// served starts a server, waits until it is ready, and ends it.
func served(t *testing.T, cmd *exec.Cmd, port string) {
	t.Helper()
	var said strings.Builder
	cmd.Stdout, cmd.Stderr = &said, &said
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGKILL}
	require.NoError(t, cmd.Start())
	ended := make(chan error, 1)
	go func() { ended <- cmd.Wait() }()
	defer func() {
		_ = syscall.Kill(-cmd.Process.Pid, syscall.SIGTERM)
		<-ended
	}()
	for end := time.Now().Add(30 * time.Second); ; time.Sleep(50 * time.Millisecond) {
		res, err := http.Get(fmt.Sprintf("http://127.0.0.1:%s/readyz", port))
		if err == nil {
			_ = res.Body.Close()
			if res.StatusCode == http.StatusOK {
				return
			}
		}
		select {
		case err := <-ended:
			ended <- err
			t.Fatalf("the server ended: %v\n%s", err, said.String())
		default:
		}
		require.False(t, time.Now().After(end), "never ready")
	}
}
