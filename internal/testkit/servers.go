package testkit

import (
	"bytes"
	"context"
	"database/sql"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	_ "github.com/go-sql-driver/mysql" // the driver "mysql"
	"github.com/stretchr/testify/require"
)

// Need skips the test where a program is not installed, or fails it where the
// environment says that all must be.
func Need(t testing.TB, programs ...string) {
	t.Helper()
	for _, p := range programs {
		if _, err := exec.LookPath(p); err != nil {
			if os.Getenv("RAMEKIN_REQUIRE_TOOLS") != "" {
				t.Fatalf("%s is not installed", p)
			}
			t.Skipf("%s is not installed", p)
		}
	}
}

// freePort returns a port of the local host that nothing listens on.
func freePort(t testing.TB) int {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer func() { _ = listener.Close() }()
	return listener.Addr().(*net.TCPAddr).Port
}

// folder returns a temporary folder that a server of another user may use.
// Sockets have a short limit on their path, so it is not the test's own.
func folder(t testing.TB) string {
	t.Helper()
	dir, err := os.MkdirTemp(memory(), "rk")
	require.NoError(t, err)
	require.NoError(t, os.Chmod(dir, 0o777))
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	return dir
}

// memory is a folder that lies in memory, where the machine has one with room:
// the databases of tests need not outlive it. "" is the usual place.
func memory() string {
	const shared, roomy = "/dev/shm", 2 << 20 // KiB
	out, err := exec.Command("df", "--output=avail", "-k", shared).Output()
	if err != nil {
		return ""
	}
	fields := strings.Fields(string(out))
	if free, err := strconv.Atoi(fields[len(fields)-1]); err != nil || free < roomy {
		return ""
	}
	if dir, err := os.MkdirTemp(shared, "rk"); err == nil {
		_ = os.Remove(dir)
		return shared
	}
	return ""
}

// start starts a server and waits until ready says that it answers. It is
// stopped, by an interrupt that it has a moment to heed, when the test ends.
func start(t testing.TB, ready func() error, name string, args ...string) {
	t.Helper()
	server := exec.Command(name, args...)
	var log bytes.Buffer
	server.Stdout, server.Stderr = &log, &log
	require.NoError(t, server.Start())
	t.Cleanup(func() {
		const patience = 2 * time.Second
		timer := time.AfterFunc(patience, func() { _ = server.Process.Kill() })
		defer timer.Stop()
		_ = server.Process.Signal(os.Interrupt)
		_ = server.Wait()
	})
	const tries = 300
	var err error
	for range tries {
		if err = ready(); err == nil {
			return
		}
		time.Sleep(100 * time.Millisecond)
	}
	require.NoError(t, err, log.String())
}

// asUser is the command that runs a program as another user where this one is
// root, which some servers refuse to run as.
func asUser(user, program string, args ...string) (string, []string) {
	if os.Geteuid() != 0 {
		return program, args
	}
	return "setpriv", append([]string{"--reuid", user, "--regid", user, "--clear-groups", "--", program}, args...)
}

// answers reports whether something listens on the port.
func answers(port int) error {
	c, err := net.DialTimeout("tcp", "127.0.0.1:"+strconv.Itoa(port), time.Second)
	if err == nil {
		_ = c.Close()
	}
	return err
}

// postgreSQLProgram finds a program of the newest PostgreSQL server.
func postgreSQLProgram(t testing.TB, name string) string {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/" + name)
	if len(found) > 0 {
		return found[len(found)-1]
	}
	Need(t, name)
	return name
}

// StartPostgreSQL starts a server of its own in a temporary folder and returns
// its URL without the name of a database. Its superuser is postgres.
func StartPostgreSQL(t testing.TB) string {
	t.Helper()
	dir, port := folder(t), freePort(t)
	name, args := asUser("postgres", postgreSQLProgram(t, "initdb"), "-D", dir+"/data", "-A", "trust", "-U", "postgres", "-E", "UTF8", "--no-sync")
	out, err := exec.Command(name, args...).CombinedOutput()
	require.NoError(t, err, string(out))
	name, args = asUser("postgres", postgreSQLProgram(t, "postgres"), "-D", dir+"/data", "-p", strconv.Itoa(port), "-k", dir, "-h", "127.0.0.1", "-c", "fsync=off")
	start(t, func() error { return answers(port) }, name, args...)
	return fmt.Sprintf("postgres://postgres@127.0.0.1:%d", port)
}

// StartMariaDB starts a server of its own in a temporary folder and returns its
// port. Its user is root without a password.
func StartMariaDB(t testing.TB) int {
	t.Helper()
	Need(t, "mariadbd", "mariadb-install-db")
	dir, port := folder(t), freePort(t)
	args := []string{"--no-defaults", "--datadir=" + dir}
	if os.Geteuid() == 0 {
		args = append(args, "--user=root")
	}
	out, err := exec.Command("mariadb-install-db", append(args, "--auth-root-authentication-method=normal", "--skip-test-db")...).CombinedOutput()
	require.NoError(t, err, string(out))
	ready := func() error {
		db, err := sql.Open("mysql", fmt.Sprintf("root@tcp(127.0.0.1:%d)/", port))
		if err != nil {
			return err
		}
		defer func() { _ = db.Close() }()
		return db.PingContext(context.Background())
	}
	start(t, ready, "mariadbd", append(args, fmt.Sprintf("--port=%d", port), "--bind-address=127.0.0.1",
		"--socket="+filepath.Join(dir, "s"), "--skip-grant-tables=0", "--character-set-server=utf8mb4")...)
	return port
}

// StartFirebird starts a server of its own in a temporary folder and returns
// its port and that folder, where databases can be made. Its user is SYSDBA with the
// password masterkey.
func StartFirebird(t *testing.T) (port int, dir string) {
	t.Helper()
	Need(t, "firebird", "isql-fb")
	root, _ := filepath.Glob("/usr/lib/*/firebird/*/firebird.msg")
	require.NotEmpty(t, root, "the files of the Firebird server are not where they are looked for")
	lib := filepath.Dir(root[0])
	version := filepath.Base(lib)
	dir, port = folder(t), freePort(t)
	for _, f := range []string{"plugins", "intl", "firebird.msg", "lib", "plugins.conf"} {
		require.NoError(t, os.Symlink(filepath.Join(lib, f), filepath.Join(dir, f)))
	}
	security := filepath.Join(dir, "security.fdb")
	users, err := os.ReadFile("/var/lib/firebird/" + version + "/system/security3.fdb")
	require.NoError(t, err)
	write := func(name, text string) {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o644))
	}
	require.NoError(t, os.WriteFile(security, users, 0o666))
	write("databases.conf", "security.db = "+security+"\n{\n\tRemoteAccess = false\n}\n")
	write("firebird.conf", fmt.Sprintf("RemoteServicePort = %d\nRemoteBindAddress = 127.0.0.1\nSecurityDatabase = %s\nAuthServer = Srp\nUserManager = Srp\nIpcName = rk%d\n", port, security, port))
	// The first user is made without the server, which then runs as another user.
	locks := func(name string) string {
		path := filepath.Join(dir, name)
		require.NoError(t, os.Mkdir(path, 0o777))
		require.NoError(t, os.Chmod(path, 0o777))
		return path
	}
	first := exec.Command("isql-fb", "-q")
	first.Env = append(os.Environ(), "FIREBIRD="+dir, "FIREBIRD_LOCK="+locks("first"))
	first.Stdin = strings.NewReader("CONNECT '" + security + "' USER SYSDBA;\nCREATE OR ALTER USER SYSDBA PASSWORD 'masterkey';\nCOMMIT;\n")
	out, err := first.CombinedOutput()
	require.NoError(t, err, string(out))
	require.NoError(t, os.Chmod(security, 0o666))
	t.Setenv("FIREBIRD", dir)
	t.Setenv("FIREBIRD_LOCK", locks("second"))
	start(t, func() error { return answers(port) }, "firebird", "-p", strconv.Itoa(port))
	return port, dir
}

// Isql runs a script by Firebird's own client on a new database of a server
// that [StartFirebird] started, and returns what it says.
func Isql(t testing.TB, port int, database, script string) string {
	t.Helper()
	head := fmt.Sprintf("CREATE DATABASE '127.0.0.1/%d:%s' USER 'sysdba' PASSWORD 'masterkey' DEFAULT CHARACTER SET UTF8;\n", port, database)
	c := exec.Command("isql-fb", "-q")
	for _, v := range os.Environ() {
		if !strings.HasPrefix(v, "FIREBIRD") {
			c.Env = append(c.Env, v)
		}
	}
	c.Stdin = strings.NewReader(head + script)
	out, _ := c.CombinedOutput()
	return string(out)
}

// GoSources returns the folder of Go's own sources.
func GoSources(t testing.TB) string {
	t.Helper()
	root, err := exec.Command("go", "env", "GOROOT").Output()
	require.NoError(t, err)
	return filepath.Join(strings.TrimSpace(string(root)), "src")
}
