// Package browser drives Debian's Chromium as a person would: by what is
// written on the screen.
package browser

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode"
	"unicode/utf8"

	cdpbrowser "github.com/chromedp/cdproto/browser"
	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/css"
	"github.com/chromedp/cdproto/dom"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	cdplog "github.com/chromedp/cdproto/log"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/cdproto/webauthn"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// Size of the window, in CSS pixels.
const (
	Width  = 1280
	Height = 800
)

// Patience is how long something may take to show: long, since a machine that is busy with
// other things tells nothing about the product.
const Patience = 3 * time.Minute

// Tab is one tab of a browser.
type Tab struct{ ctx context.Context }

// shared is the one browser of this process; each tab in it is a window of its own, with cookies
// of its own.
var shared struct {
	sync.Mutex
	ctx  context.Context
	end  func()
	tabs int
}

// Start opens a window with one empty tab, in a browser that is started when there is none. stop
// closes it, and the last ends the browser.
func Start(ctx context.Context) (tab *Tab, stop func(), err error) {
	shared.Lock()
	defer shared.Unlock()
	if shared.ctx == nil {
		if shared.ctx, shared.end, err = start(); err != nil {
			return nil, nil, err
		}
	}
	inner, closeTab := chromedp.NewContext(shared.ctx, chromedp.WithNewBrowserContext())
	left := context.AfterFunc(ctx, closeTab)
	shared.tabs++
	stop = func() {
		left()
		closeTab()
		shared.Lock()
		defer shared.Unlock()
		if shared.tabs--; shared.tabs == 0 {
			shared.end()
			shared.ctx = nil
		}
	}
	if err := chromedp.Do(inner, chromedp.EmulateViewport(Width, Height), quiet(), focused(), whole(), copying()); err != nil {
		go stop()
		return nil, nil, fmt.Errorf("no window opens: %w", err)
	}
	return &Tab{inner}, sync.OnceFunc(stop), nil
}

// quiet has a window not tell of all that it loads, draws and changes: nobody listens, and telling takes a third of the work.
func quiet() chromedp.Action[chromedp.Void] {
	return chromedp.Func(func(ctx context.Context, t *chromedp.Target) (err error) {
		for _, method := range []string{css.Disable.Method, dom.Disable.Method, network.Disable.Method, cdplog.Disable.Method} {
			err = errors.Join(err, t.Call(ctx, method, cdp.Empty{}, nil))
		}
		return err
	})
}

// focused has a window behave as if it were the one in front.
func focused() chromedp.Action[chromedp.Void] {
	return chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, emulation.SetFocusEmulationEnabled, emulation.SetFocusEmulationEnabledParams{Enabled: true})
		return err
	})
}

// whole has rows below the window drawn too: what a test sees is all that somebody who scrolls sees.
func whole() chromedp.Action[chromedp.Void] {
	return chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: `{
			const all = new CSSStyleSheet()
			all.replaceSync("* { content-visibility: visible !important }")
			document.adoptedStyleSheets.push(all)
		}`})
		return err
	})
}

// copying lets pages put text on the clipboard, as a browser with windows does once a key is pressed.
func copying() chromedp.Action[chromedp.Void] {
	return chromedp.Func(func(ctx context.Context, _ *chromedp.Target) error {
		_, err := chromedp.CallBrowser(ctx, cdpbrowser.SetPermission, cdpbrowser.SetPermissionParams{
			Permission:       &cdpbrowser.PermissionDescriptor{Name: "clipboard-write"},
			Setting:          cdpbrowser.PermissionSettingGranted,
			BrowserContextID: chromedp.FromContext(ctx).BrowserContextID,
		})
		return err
	})
}

// Authenticator gives the tab a device that makes passkeys and signs with them, as if its owner were before it.
func (t *Tab) Authenticator() error {
	return t.patiently("an authenticator", chromedp.Func(func(ctx context.Context, target *chromedp.Target) error {
		_, err := cdp.Call(ctx, target, webauthn.Enable, webauthn.EnableParams{})
		_, added := cdp.Call(ctx, target, webauthn.AddVirtualAuthenticator, webauthn.AddVirtualAuthenticatorParams{Options: &webauthn.VirtualAuthenticatorOptions{
			Protocol: webauthn.AuthenticatorProtocolCtap2, Transport: webauthn.AuthenticatorTransportInternal,
			HasResidentKey: true, HasUserVerification: true, IsUserVerified: true, AutomaticPresenceSimulation: true,
		}})
		return errors.Join(err, added)
	}))
}

// program is Debian's Chromium without windows and menus, which take half of the work; or the whole of it.
func program() string {
	const shell = "/usr/bin/chromium-headless-shell"
	if _, err := os.Stat(shell); err == nil {
		return shell
	}
	return "/usr/bin/chromium"
}

func start() (ctx context.Context, end func(), err error) {
	profile, err := os.MkdirTemp("", "uvent-browser-")
	if err != nil {
		return nil, nil, err
	}
	options := append(chromedp.DefaultExecAllocatorOptions[:],
		chromedp.ExecPath(program()), chromedp.NoSandbox, chromedp.DisableGPU, chromedp.UserDataDir(profile), chromedp.WindowSize(Width, Height),
		chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-quic", true), chromedp.Flag("force-prefers-reduced-motion", true),
		chromedp.Flag("js-flags", "--no-opt --no-maglev"), // a page that is soon left is not worth it
	)
	alloc, cancelAlloc := chromedp.NewExecAllocator(context.Background(), options...)
	ctx, cancelTab := chromedp.NewContext(alloc)
	end = func() { cancelTab(); cancelAlloc(); os.RemoveAll(profile) }
	if err := chromedp.Do(ctx, chromedp.EmulateViewport(Width, Height)); err != nil {
		end()
		return nil, nil, fmt.Errorf("Debian's package chromium does not start: %w", err)
	}
	return ctx, end, nil
}

// patiently does steps, and says what was awaited when it does not come.
func (t *Tab) patiently(what string, steps ...chromedp.Action[chromedp.Void]) error {
	ctx, cancel := context.WithTimeout(t.ctx, Patience)
	defer cancel()
	if err := chromedp.Do(ctx, steps...); err != nil {
		return fmt.Errorf("%s: %w; the page says:\n%s", what, err, t.saysNow())
	}
	return nil
}

func (t *Tab) saysNow() string {
	ctx, cancel := context.WithTimeout(t.ctx, 10*time.Second)
	defer cancel()
	text, err := chromedp.Run(ctx, chromedp.Evaluate[string](`document.body.innerText`))
	if err != nil {
		return err.Error()
	}
	return text
}

// Open goes to an address.
func (t *Tab) Open(address string) error {
	return t.patiently("opening "+address, chromedp.Navigate(address))
}

// Go goes to another view of the application that the tab shows, as its own links do, and waits until that is drawn: the
// heading of the one before is gone, or another, but for views that have the same, and the page has nothing to do. What has
// been loaded stays, which makes it several times cheaper than Open.
func (t *Tab) Go(path string) error {
	return t.patiently("going to "+path, until(`new Promise(drawn => {
		const head = document.querySelector("#view h1"), text = head?.textContent, from = location.pathname
		history.pushState(null, "", `+js(path)+`)
		dispatchEvent(new PopStateEvent("popstate", {state: null}))
		const stays = () => head && location.pathname !== from && document.contains(head) && head.textContent === text
		const idle = then => requestAnimationFrame(() => requestIdleCallback(then))
		const until = Date.now() + 3000
		const ask = () => stays() && Date.now() < until ? setTimeout(ask, 15) : idle(() => idle(() => drawn(true)))
		ask()
	})`))
}

// SignIn signs in through the page.
func (t *Tab) SignIn(base, email, password string) error {
	for _, step := range []func() error{
		func() error { return t.Open(base + "/sign-in") },
		func() error { return t.Type("Email", email) },
		func() error { return t.Type("Password", password) },
		func() error { return t.Press("Sign in") },
		func() error { return t.Until(`!!document.querySelector(".band")`) },
	} {
		if err := step(); err != nil {
			return fmt.Errorf("signing in: %w", err)
		}
	}
	return nil
}

// Enter signs in without the page for it, which has tests of its own: from a picture of the application's.
func (t *Tab) Enter(base, email, password string) error {
	asked, err := json.Marshal(map[string]string{"email": email, "password": password})
	if err != nil {
		return err
	}
	in := `fetch("/api/session", {method: "POST", headers: {"Content-Type": "application/json"}, body: ` + js(string(asked)) + `}).then(r => r.ok)`
	return t.patiently("signing in", chromedp.Navigate(base+"/mark.svg"), until(in))
}

// Press presses the button or link that reads so, once it can be pressed: it is
// in sight, it stays where it is, and nothing lies over it. A press that misses, because the
// page moved under it, does nothing, and is made again. Where several read so, within says what
// else the row or card around it reads: Press("Claim", "Saltgrass Laundry").
func (t *Tab) Press(text string, within ...string) error {
	return t.press(text, pressable(text, within...))
}

// PressOne presses the one button of a class, whatever it reads.
func (t *Tab) PressOne(class string) error {
	return t.press("the "+class, fmt.Sprintf("//button[contains(concat(' ', @class, ' '), ' %s ')]", class))
}

// press presses what an XPath finds.
func (t *Tab) press(what, path string) error {
	return t.patiently("pressing "+what, chromedp.Func(func(ctx context.Context, _ *chromedp.Target) error {
		for before := false; ; before = true {
			at, err := awaited[[]float64](ctx, fmt.Sprintf(pointOf, js(path), before))
			if err != nil || len(at) == 0 {
				return err
			}
			if err := chromedp.Do(ctx, chromedp.MouseClickXY(at[0], at[1])); err != nil {
				return err
			}
			// A page that was left for another does not know of it, and its answer does not come.
			if hit, err := chromedp.Run(ctx, chromedp.Evaluate[bool](clicked, chromedp.EvalAwaitPromise)); err != nil || hit {
				return ctx.Err()
			}
		}
	}))
}

// clicked waits until a page has heard of a press, which on a busy machine may be a while after the browser has
// answered, and has drawn what comes of it, so that what is typed next goes into the page that follows. It tells whether
// the press was the one that was meant. One that is not heard of was lost.
const clicked = `new Promise(heard => {
	const done = hit => {
		let quiet
		const end = () => { drawn.disconnect(); heard(hit) }
		const drawn = new MutationObserver(() => { clearTimeout(quiet); quiet = setTimeout(end, 25) })
		drawn.observe(document, {subtree: true, childList: true})
		quiet = setTimeout(end, 25)
		setTimeout(end, 250)
	}
	const until = Date.now() + 60000
	const ask = () => window.pressed !== undefined || Date.now() > until ? done(window.pressed === true) : setTimeout(ask, 5)
	if (window.unwatch) ask()
	else done(true)
})`

// pointOf gives the middle of what an XPath finds, when it can be pressed there and stays there. It gives nothing where
// it was pressed before and the page, which had not heard of that, has by now.
const pointOf = `async over => {
	const find = () => document.evaluate(%s, document, null, XPathResult.FIRST_ORDERED_NODE_TYPE, null).singleNodeValue
	if (%t && window.pressed === true) return []
	const point = () => {
		const el = find()
		el?.scrollIntoView({block: "nearest"})
		const b = el?.getClientRects()[0]
		if (!b) return
		const x = b.x + b.width / 2, y = b.y + b.height / 2
		if (el.contains(document.elementFromPoint(x, y))) return {el, x, y}
	}
	for (let before = point(); before;) {
		await new Promise(done => setTimeout(done, 15))
		if (over()) return
		const now = point()
		if (now && now.el === before.el && now.x === before.x && now.y === before.y) {
			window.pressed = undefined
			window.unwatch?.()
			const events = ["pointerdown", "mousedown", "pointerup", "mouseup", "click"]
			const watch = e => {
				const hit = !!find()?.contains(e.target)
				if (!hit) { e.preventDefault(); e.stopImmediatePropagation() }
				if (e.type === "click") { window.unwatch(); window.pressed = hit }
			}
			window.unwatch = () => events.forEach(e => window.removeEventListener(e, watch, true))
			events.forEach(e => window.addEventListener(e, watch, true))
			return [now.x, now.y]
		}
		before = now
	}
}`

// awaited is what a function in the page gives, once it gives anything but false: it is asked when the
// page changes, and now and then, since not all that changes is told.
func awaited[T any](ctx context.Context, look string) (out T, err error) {
	script := `(look => new Promise(done => {
		let timer, soon = false, busy = false, ended = false, pause = 15
		const end = found => { ended = true; changes.disconnect(); clearTimeout(timer); clearTimeout(limit); done(JSON.stringify(found)) }
		const ask = async () => {
			soon = false
			busy = true // one look at a time: a second one would watch for a press that the first one has found
			const since = performance.now()
			let found
			try { found = await look(() => ended) } catch {}
			busy = false
			pause = Math.max(15, 3 * (performance.now() - since)) // what takes long is looked at less often
			if (ended) return
			if (found !== undefined && found !== false) end(found)
			else timer = setTimeout(ask, soon ? pause : 120)
		}
		const changes = new MutationObserver(() => {
			if (soon) return
			soon = true
			if (busy) return
			clearTimeout(timer)
			timer = setTimeout(ask, pause)
		})
		changes.observe(document, {subtree: true, childList: true, characterData: true, attributes: true})
		const limit = setTimeout(() => end(), 4000)
		ask()
	}))(` + look + `)`
	for {
		// A page that is left for another, or that shows nothing for long, is asked anew.
		found, err := chromedp.Run(ctx, chromedp.Evaluate[string](script, chromedp.EvalAwaitPromise))
		if err == nil && json.Unmarshal([]byte(found), &out) == nil {
			return out, nil
		}
		select {
		case <-ctx.Done():
			return out, ctx.Err()
		case <-time.After(30 * time.Millisecond):
		}
	}
}

func pressable(text string, within ...string) string {
	around := ""
	for _, w := range within {
		around += fmt.Sprintf("[ancestor::*[self::li or self::tr or @class='who'][1][contains(normalize-space(.), %s)]]", quoted(w))
	}
	return fmt.Sprintf(
		"(//*[self::button or self::a or self::summary][not(@disabled)][normalize-space(.)=%[1]s or .//text()[normalize-space(.)=%[1]s] or "+
			"@aria-label=%[1]s]%[2]s)[last()]",
		quoted(text),
		around,
	)
}

// quoted writes a text as XPath does, which has no escapes.
func quoted(s string) string {
	if !strings.Contains(s, `"`) {
		return `"` + s + `"`
	}
	return `'` + s + `'`
}

// See waits until the page says something.
func (t *Tab) See(text string) error {
	return t.patiently("waiting to see “"+text+"”", until(`document.body.innerText.replace(/\s+/g, ' ').includes(`+js(text)+`)`))
}

// NotSee waits until the page no longer says something.
func (t *Tab) NotSee(text string) error {
	return t.patiently("waiting not to see “"+text+"”", until(`!document.body.innerText.replace(/\s+/g, ' ').includes(`+js(text)+`)`))
}

// Until waits until a script gives true.
func (t *Tab) Until(script string) error { return t.patiently(script, until(script)) }

func until(script string) chromedp.Action[chromedp.Void] { return comes("() => " + script) }

// comes waits until a function in the page gives true.
func comes(look string) chromedp.Action[chromedp.Void] {
	return chromedp.Func(func(ctx context.Context, _ *chromedp.Target) error {
		_, err := awaited[bool](ctx, look)
		return err
	})
}

// Type puts text into the field with a label, in place of what is there.
func (t *Tab) Type(label, text string) error {
	field := fmt.Sprintf("//*[self::input or self::textarea][@aria-label=%[1]s or @id=//label[normalize-space(.)=%[1]s]/@for]", quoted(label))
	return t.patiently("typing into "+label, comes(fmt.Sprintf(intoField, js(field))), typed(text))
}

// intoField puts the focus into the field that an XPath finds, with what it holds selected, once it can be typed into and
// keeps the focus: a dialog that opens takes it, and a field that is drawn anew loses it.
const intoField = `async () => {
	const find = () => document.evaluate(%s, document, null, XPathResult.FIRST_ORDERED_NODE_TYPE, null).singleNodeValue
	const field = find()
	if (!field?.getClientRects().length || field.disabled) return false
	field.focus()
	field.select?.()
	await new Promise(done => setTimeout(done, 20))
	return find() === field && document.activeElement === field
}`

// typed types a text: a long one's beginning and end key by key, and what lies between at once, as
// one pastes or dictates it.
func typed(text string) chromedp.Action[chromedp.Void] {
	const byKey = 2
	runes := []rune(text)
	between := max(byKey, len(runes)-byKey)
	if len(runes) < 4*byKey || slices.ContainsFunc(runes, func(r rune) bool { return !unicode.IsPrint(r) || unicode.IsMark(r) }) {
		return keysOf(text)
	}
	return chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		plain, err := chromedp.Evaluate[bool](`/^(text|search|url|email|tel|textarea)$/.test(document.activeElement.type)`)(ctx, t)
		if err != nil || !plain { // a date is only typed
			_, typing := keysOf(text)(ctx, t)
			return errors.Join(err, typing)
		}
		_, first := keysOf(string(runes[:byKey]))(ctx, t)
		_, middle := cdp.Call(ctx, t, input.InsertText, input.InsertTextParams{Text: string(runes[byKey:between])})
		_, last := keysOf(string(runes[between:]))(ctx, t)
		return errors.Join(first, middle, last)
	})
}

// Key presses keys wherever the focus is.
func (t *Tab) Key(keys string) error { return t.patiently("pressing keys", keysOf(keys)) }

// keysOf presses keys one by one. A key types its letter only when the page lets
// it, as on a real keyboard.
func keysOf(keys string) chromedp.Action[chromedp.Void] {
	return chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		before, err := chromedp.Evaluate[int](listen)(ctx, t)
		if err != nil {
			return err
		}
		for _, r := range keys {
			p := input.DispatchKeyEventParams{Type: input.DispatchKeyEventTypeKeyDown, Key: string(r), Text: string(r), UnmodifiedText: string(r)}
			if k, known := kb.Keys[r]; known {
				p.Key, p.Code, p.Text, p.UnmodifiedText, p.WindowsVirtualKeyCode = k.Key, k.Code, k.Text, k.Unmodified, k.Windows
				if k.Shift {
					p.Modifiers = 8
				}
			}
			if _, err := cdp.Call(ctx, t, input.DispatchKeyEvent, p); err != nil {
				return err
			}
			p.Type, p.Text = input.DispatchKeyEventTypeKeyUp, ""
			if _, err := cdp.Call(ctx, t, input.DispatchKeyEvent, p); err != nil {
				return err
			}
		}
		// A page that was left for another does not know of them, and its answer does not come.
		knows, err := chromedp.Evaluate[bool](fmt.Sprintf(heard, before+utf8.RuneCountInString(keys)), chromedp.EvalAwaitPromise)(ctx, t)
		if err == nil && !knows {
			return fmt.Errorf("the page did not hear of %q", keys)
		}
		return ctx.Err()
	})
}

// listen counts the keys that a page has heard of. heard waits until it has heard of so many: on a busy machine that
// may be a while after the browser has answered, and a page that is left meanwhile never does.
const (
	listen = `window.heard ??= (window.addEventListener("keyup", () => window.heard++, true), 0)`
	heard  = `new Promise(done => {
	const until = Date.now() + 120000
	const ask = () => window.heard === undefined || window.heard >= %d ? done(true) : Date.now() > until ? done(false) : setTimeout(ask, 4)
	ask()
})`
)

// Tick presses the box or the round button with a label.
func (t *Tab) Tick(label string) error {
	return t.press("the box "+label, fmt.Sprintf("//label[normalize-space(.)=%s][not(@for=//input[@disabled]/@id or .//input[@disabled])]", quoted(label)))
}

// Choose chooses a value from the list with a label, or sets a date or a slider to it.
func (t *Tab) Choose(label, value string) error {
	return t.Until(fmt.Sprintf(`(() => {
		const label = [...document.querySelectorAll("label")].find(l => l.innerText.trim() === %s)
		const field = label ? document.getElementById(label.htmlFor) : document.querySelector("[aria-label=" + CSS.escape(%[1]s) + "]")
		if (!field || field.options && ![...field.options].some(o => o.value === %s)) return false
		Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field), "value").set.call(field, %[2]s)
		field.dispatchEvent(new Event(field.options ? "change" : "input", {bubbles: true}))
		return true
	})()`, js(label), js(value)))
}

// Upload gives files to the field with an id.
func (t *Tab) Upload(id string, files ...string) error {
	field := "document.getElementById(" + js(id) + ")"
	return t.patiently("uploading", until("!!"+field), chromedp.Func(func(ctx context.Context, target *chromedp.Target) error {
		found, err := cdp.Call(ctx, target, runtime.Evaluate, runtime.EvaluateParams{Expression: field})
		if err == nil {
			_, err = cdp.Call(ctx, target, dom.SetFileInputFiles, dom.SetFileInputFilesParams{Files: files, ObjectID: found.Result.ObjectID})
		}
		return err
	}))
}

// Drag presses the button at one point, and lets it go at another, in CSS
// pixels from the window's corner.
func (t *Tab) Drag(fromX, fromY, toX, toY float64) error {
	return t.patiently("dragging", chromedp.DragAndDropXY(fromX, fromY, toX, toY, 6))
}

// Resize makes the window another size, in CSS pixels.
func (t *Tab) Resize(width, height int64) error {
	return t.patiently("resizing", chromedp.EmulateViewport(width, height))
}

// Leave takes the focus out of any field.
func (t *Tab) Leave() error {
	return t.patiently("leaving a field", chromedp.Evaluate[chromedp.Void](`document.activeElement?.blur()`))
}

// Address is where the tab is.
func (t *Tab) Address() (string, error) { return chromedp.Run(t.ctx, chromedp.Location()) }

// Picture is a PNG of what the window shows.
func (t *Tab) Picture() ([]byte, error) { return chromedp.Run(t.ctx, chromedp.CaptureScreenshot()) }

// Ask evaluates a script, and waits for the promise that it may give.
func Ask[T any](t *Tab, script string) (T, error) {
	return chromedp.Run(t.ctx, chromedp.Evaluate[T](script, chromedp.EvalAwaitPromise))
}

func js(s string) string {
	return `'` + strings.NewReplacer(`\`, `\\`, `'`, `\'`, "\n", `\n`).Replace(s) + `'`
}
