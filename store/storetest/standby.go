package storetest

import (
	"context"
	"fmt"
	neturl "net/url"
	"os"
	"os/exec"
	"path/filepath"
	"syscall"

	"uvent/store/cluster"
)

// Standby makes a hot standby of a server (https://www.postgresql.org/docs/current/app-pgbasebackup.html), in a new folder,
// which belongs to whoever calls, as does ending it. url is the address of a database of the server, whose folder is of.
func Standby(ctx context.Context, url, of string) (c *cluster.Cluster, dir string, err error) {
	if dir, err = os.MkdirTemp("", "uvent-standby-"); err != nil {
		return nil, "", err
	}
	owner, err := os.Stat(filepath.Join(of, "data"))
	if err != nil {
		return nil, dir, err
	}
	at, err := neturl.Parse(url)
	if err != nil {
		return nil, dir, err
	}
	stat := owner.Sys().(*syscall.Stat_t)
	password, _ := at.User.Password()
	secret := filepath.Join(dir, "password")
	if err := os.WriteFile(secret, []byte(password), 0o600); err != nil {
		return nil, dir, err
	}
	for _, path := range []string{dir, secret} {
		if err := os.Chown(path, int(stat.Uid), int(stat.Gid)); err != nil {
			return nil, dir, err
		}
	}
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/pg_basebackup")
	if len(found) == 0 {
		return nil, dir, cluster.ErrNotInstalled
	}
	copying := exec.CommandContext(
		ctx, found[len(found)-1], "-D", filepath.Join(dir, "data"), "-R", "-c", "fast", "-X", "stream", "--no-sync",
		"-h", at.Hostname(), "-p", at.Port(), "-U", at.User.Username(),
	)
	copying.Dir, copying.Env = dir, append(os.Environ(), "PGPASSWORD="+password)
	if os.Getuid() == 0 {
		copying.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: stat.Uid, Gid: stat.Gid}}
	}
	if out, err := copying.CombinedOutput(); err != nil {
		return nil, dir, fmt.Errorf("copying the server: %w\n%s", err, out)
	}
	c, err = cluster.Start(ctx, cluster.Options{Dir: dir, Throwaway: true})
	return c, dir, err
}
