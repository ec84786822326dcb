// Command beside runs another command beside one throwaway PostgreSQL, which all the tests that
// it runs share: beside go test ./...
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"os/signal"
	"syscall"

	"uvent/store/storetest"
)

func main() {
	code, err := run(os.Args[1:])
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
	}
	os.Exit(code)
}

func run(args []string) (code int, err error) {
	if len(args) == 0 {
		return 2, errors.New("say which command to run: beside go test ./...")
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	address, end, err := storetest.Begin(ctx)
	if err != nil {
		return 1, err
	}
	defer end()
	cmd := exec.CommandContext(ctx, args[0], args[1:]...)
	cmd.Cancel = func() error { return cmd.Process.Signal(os.Interrupt) }
	cmd.Stdin, cmd.Stdout, cmd.Stderr = os.Stdin, os.Stdout, os.Stderr
	cmd.Env = append(os.Environ(), storetest.Server+"="+address)
	var failed *exec.ExitError
	if err := cmd.Run(); errors.As(err, &failed) {
		return failed.ExitCode(), nil
	} else if err != nil {
		return 1, err
	}
	return 0, nil
}
