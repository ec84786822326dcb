// Command screenshots takes pictures of a running demo, at 1280x800, for the
// README: one of each main view, or those named as NAME=PATH. In a path,
// {Client/Label} stands for that location's id, {Client} for the client's and
// {outside} for the address of the stand-ins.
package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"uvent/demo"
	"uvent/e2e/browser"
)

var mainViews = []string{
	"today=/today",
	"coverage=/coverage",
	"record=/record/l/{Spokeshave Cycle Works/Minnow Bay}",
	"verification=/verification",
	"listing=/verification/l/{Spokeshave Cycle Works/Minnow Bay}/fernlook",
	"differences=/verification/l/{Spokeshave Cycle Works/Three Herons}/fernlook",
	"decide=/verification/l/{Nettlewick Yarns/Old Wharf}/fernlook",
	"directories=/directories",
	"outside={outside}/",
}

func main() {
	at := flag.String("at", "http://127.0.0.1:7300", "address of the demo")
	out := flag.String("out", "docs/screenshots", "folder for the pictures")
	before := flag.String("do", "", "script to run in the page before each picture")
	flag.Parse()
	views := flag.Args()
	if len(views) == 0 {
		views = mainViews
	}
	if err := run(*at, *out, *before, views); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(at, out, before string, views []string) error {
	ctx, cancel := context.WithTimeout(context.Background(), 3*time.Minute)
	defer cancel()
	tab, stop, err := browser.Start(ctx)
	if err != nil {
		return err
	}
	defer stop()
	shoot := func(name string) error {
		time.Sleep(900 * time.Millisecond) // until fonts and answers are there
		png, err := tab.Picture()
		if err != nil {
			return err
		}
		return os.WriteFile(filepath.Join(out, name+".png"), png, 0o644)
	}
	if err := tab.Open(at + "/sign-in"); err != nil {
		return err
	}
	if err := shoot("sign-in"); err != nil {
		return err
	}
	if err := tab.SignIn(at, demo.People[0].Email, demo.Password); err != nil {
		return err
	}
	names, err := browser.Ask[map[string]string](tab, `Promise.all([fetch('/api/clients').then(r => r.json()), fetch('/api/session').then(r => r.json())]).then(([clients, session]) =>
		Object.fromEntries([['outside', session.outside], ...clients.flatMap(c => [[c.name, c.id], ...c.locations.map(l => [c.name + '/' + l.label, l.id])])]))`)
	if err != nil {
		return err
	}
	for _, v := range views {
		name, path, _ := strings.Cut(v, "=")
		for of, id := range names {
			path = strings.ReplaceAll(path, "{"+of+"}", id)
		}
		if strings.HasPrefix(path, "/") {
			path = at + path
		}
		if err := tab.Open(path); err != nil {
			return err
		}
		if before != "" {
			time.Sleep(700 * time.Millisecond)
			if _, err := browser.Ask[any](tab, before); err != nil {
				return err
			}
		}
		if err := shoot(name); err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
	}
	return nil
}
