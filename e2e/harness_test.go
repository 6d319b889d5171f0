// Package e2e drives the real pages in headless Chromium, against the real
// program on the demo data.
package e2e

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"dorvet/internal/apptest"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

var (
	program string          // the built program
	seeded  string          // a data folder with the fresh demo firm
	shared  string          // a folder for what tests share
	browser context.Context // one browser for all tests
)

func TestMain(m *testing.M) {
	os.Exit(run(m))
}

func run(m *testing.M) int {
	folder, err := os.MkdirTemp("", "dorvet-e2e-*")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(folder)
	shared = folder
	if program, err = apptest.Program("../cmd/dorvet", filepath.Join(folder, "dorvet")); err != nil {
		panic(fmt.Sprintf("build: %v", err))
	}
	if _, err := os.Stat("../web/dist/index.html"); err != nil {
		panic("the pages are not built: run 'make build' first")
	}
	seeded, err = apptest.Demo(filepath.Join(folder, "data"), func(data string) error {
		return exec.Command(program, "demo", "--make-only", "--data", data).Run()
	})
	if err != nil {
		panic(fmt.Sprintf("make the demo: %v", err))
	}
	allocator, cancel := chromedp.NewExecAllocator(context.Background(), chromedp.ExecPath("/usr/bin/chromium-headless-shell"), chromedp.Headless,
		chromedp.NoSandbox,
		chromedp.DisableGPU, chromedp.NoFirstRun, chromedp.Flag("disable-background-networking", true),
		chromedp.Flag("disable-component-update", true),
		chromedp.Flag("disable-sync", true), chromedp.Flag("disable-background-timer-throttling", true),
		chromedp.Flag("disable-backgrounding-occluded-windows", true), chromedp.Flag("disable-renderer-backgrounding", true),
		chromedp.Flag("disable-quic", true), chromedp.Flag("force-color-profile", "srgb"),
		chromedp.Flag("hide-scrollbars", true), chromedp.WindowSize(1280, 800))
	defer cancel()
	var closeBrowser context.CancelFunc
	browser, closeBrowser = chromedp.NewContext(allocator)
	defer closeBrowser()
	if err := chromedp.Do(browser, chromedp.Navigate("about:blank")); err != nil {
		panic(fmt.Sprintf("start chromium: %v", err))
	}
	code := m.Run()
	if lookedAt {
		looked().stop()
	}
	return code
}

var (
	serves = regexp.MustCompile(`serves (http://\S+)`)
	prints = regexp.MustCompile(`set-up token +(\S+)`)
)

// server is the program while it runs.
type server struct {
	address string
	token   string // that a server without a firm has printed
	stop    func()
}

// start runs the program on a free port and waits until it says its address:
// demo, or serve.
func start(verb, data string) (s server) {
	cmd := exec.Command(program, verb, "--data", data, "--addr", "127.0.0.1:0")
	cmd.Stderr = os.Stderr
	out, err := cmd.StdoutPipe()
	if err != nil {
		panic(err)
	}
	if err := cmd.Start(); err != nil {
		panic(err)
	}
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if found := prints.FindStringSubmatch(lines.Text()); found != nil {
			s.token = found[1]
		}
		if found := serves.FindStringSubmatch(lines.Text()); found != nil {
			s.address = found[1]
			break
		}
	}
	go func() {
		for lines.Scan() { // let the program write on
		}
	}()
	s.stop = func() {
		cmd.Process.Signal(syscall.SIGTERM)
		cmd.Wait()
	}
	return s
}

// page is a browser page of one test, with a server and data of its own.
type page struct {
	*testing.T
	server
	ctx  context.Context
	data string
	verb string
	// heard is told what the browser says of its requests.
	heard atomic.Pointer[func(event any)]
}

// restart stops the server and starts it again on the same data.
func (p *page) restart() {
	p.Helper()
	p.goTo("/api/session") // so that no page asks while nobody answers
	p.stop()
	p.server = start(p.verb, p.data)
}

// open starts a server on a copy of the demo and a fresh page. When the test
// ends the data must add up, and nothing may have been thrown on the page or
// have been asked of another machine.
func open(t *testing.T) *page {
	t.Helper()
	atOnce(t)
	data := filepath.Join(t.TempDir(), "data")
	if err := os.CopyFS(data, os.DirFS(seeded)); err != nil {
		t.Fatal(err)
	}
	return openOn(t, "demo", data)
}

// atOnce lets a test run beside others: each has a server, data and a page of its own, and
// waits for its page most of the time.
func atOnce(t *testing.T) {
	if _, runs := besides.LoadOrStore(t, true); !runs {
		t.Parallel()
	}
}

var besides sync.Map

// openOn is open, on data and with a verb of the test's own.
func openOn(t *testing.T, verb, data string) *page {
	t.Helper()
	atOnce(t)
	p := &page{T: t, server: start(verb, data), data: data, verb: verb}
	t.Cleanup(func() {
		p.stop()
		if out, err := check(data); err != nil {
			t.Errorf("dorvet check: %v: %s", err, out)
		}
	})
	p.show()
	return p
}

func check(data string) ([]byte, error) {
	return exec.Command(program, "check", "--redraw", "3", "--data", data).CombinedOutput()
}

// look is a fresh page for a test that only looks: all of those share a server.
func look(t *testing.T) *page {
	t.Helper()
	atOnce(t)
	p := &page{T: t, server: looked()}
	p.show()
	return p
}

// looked is the server that is only looked at.
var looked = sync.OnceValue(func() server {
	data := filepath.Join(shared, "looked")
	if err := os.CopyFS(data, os.DirFS(seeded)); err != nil {
		panic(err)
	}
	s := start("demo", data)
	stop := s.stop
	s.stop = func() {
		stop()
		if out, err := check(data); err != nil {
			panic(fmt.Sprintf("dorvet check of what was only looked at: %v: %s", err, out))
		}
	}
	lookedAt = true
	return s
})

// lookedAt says whether any test has looked.
var lookedAt bool

// show opens the page in a browser of its own. When the test ends nothing may have been
// thrown on it, or have been asked of another machine.
func (p *page) show() {
	p.Helper()
	var strays []string
	listen := func(event any) {
		if heard := p.heard.Load(); heard != nil {
			(*heard)(event)
		}
		switch e := event.(type) {
		case *runtime.EventExceptionThrown:
			text, _ := json.Marshal(e.ExceptionDetails)
			strays = append(strays, "thrown: "+string(text))
		case *network.EventRequestWillBeSent:
			if url := e.Request.URL; !strings.HasPrefix(url, p.address) && !strings.HasPrefix(url, "data:") && !strings.HasPrefix(url, "blob:") {
				strays = append(strays, "asked of another machine: "+url)
			}
		}
	}
	ctx, cancel := chromedp.NewContext(browser, chromedp.WithNewBrowserContext(), chromedp.WithListener(listen))
	ctx, cancelTime := context.WithTimeout(ctx, 8*time.Minute)
	p.ctx = ctx
	p.Cleanup(func() {
		cancelTime()
		cancel()
		for _, stray := range strays {
			p.Error(stray)
		}
	})
	p.size(1280, 800)
	p.do(chromedp.Func(func(ctx context.Context, target *chromedp.Target) error { // keys reach a page that is not in front
		_, err := cdp.Call(ctx, target, emulation.SetFocusEmulationEnabled, emulation.SetFocusEmulationEnabledParams{Enabled: true})
		return err
	}))
}

func (p *page) do(steps ...chromedp.Action[chromedp.Void]) {
	p.Helper()
	if err := chromedp.Do(p.ctx, steps...); err != nil {
		p.Fatal(err)
	}
}

func (p *page) size(width, height int64) {
	p.Helper()
	p.do(chromedp.EmulateViewport(width, height))
}

// js evaluates an expression in the page.
func js[T any](p *page, expression string, values ...any) T {
	p.Helper()
	result, err := chromedp.Run(p.ctx, chromedp.Evaluate[T](fill(expression, values)))
	if err != nil {
		p.Fatalf("%s: %v", expression, err)
	}
	return result
}

// fill puts values as JSON in the places of %v.
func fill(expression string, values []any) string {
	for _, value := range values {
		text, _ := json.Marshal(value)
		expression = strings.Replace(expression, "%v", string(text), 1)
	}
	return expression
}

// patience is how long a page is waited for: several are driven at once, on machines that
// do other things beside.
const patience = 40 * time.Second

// until waits for an expression to become true.
func (p *page) until(expression string, values ...any) {
	p.Helper()
	expression = fill(expression, values)
	wrapped := fmt.Sprintf("(() => { try { return Boolean(%s) } catch { return false } })()", expression)
	_, err := chromedp.Run(p.ctx, chromedp.Poll[bool](wrapped, chromedp.WithPollingTimeout(patience),
		chromedp.WithPollingInterval(100*time.Millisecond)))
	if err != nil && strings.Contains(err.Error(), "Cannot find context") { // the page that was asked is gone: ask the one that came
		_, err = chromedp.Run(p.ctx, chromedp.Poll[bool](wrapped, chromedp.WithPollingTimeout(patience),
			chromedp.WithPollingInterval(100*time.Millisecond)))
	}
	if err != nil {
		p.picture(filepath.Join(os.TempDir(), "dorvet-failed.png"))
		p.Fatalf("never true: %s: %v; the page reads:\n%s", expression, err, js[string](p, "document.body.innerText"))
	}
}

// control is the JavaScript that finds a visible control by its role and name.
const control = `[...document.querySelectorAll(({button: "button, a.ant-btn, [role=button]", link: "a", checkbox: "input[type=checkbox]",
	field: "input, textarea", option: ".ant-select-item-option, .find_hit"})[%v])]
	.filter(e => e.checkVisibility() || e.type === "checkbox")
	.find(e => (e.getAttribute("aria-label") ?? e.getAttribute("title") ?? e.labels?.[0]?.innerText ?? e.innerText).trim().startsWith(%v))`

// click clicks a control as a person would, with the mouse.
func (p *page) click(role, name string) {
	p.Helper()
	p.until(control, role, name)
	p.clickOn(control, role, name)
}

// whereItRests is the middle of an element once it has stood still for some
// frames: what is loaded above it may still push it down.
const whereItRests = `new Promise((done, fail) => {
	let last = "", same = 0, frames = 0
	const look = () => {
		const e = %s
		if (!e || ++frames > 300) return fail(new Error("it is not there, or never rests"))
		if (frames === 1) e.scrollIntoView({block: "nearest"})
		const r = e.getBoundingClientRect(), now = [r.x, r.y, r.width, r.height].join()
		same = now === last ? same + 1 : 0
		last = now
		if (same > 3) {
			window.missed = undefined
			addEventListener("mousedown", at => { window.missed = !e.contains(at.target) && !at.target.closest("label")?.contains(e) },
				{ capture: true, once: true })
			done([r.x + r.width / 2, r.y + r.height / 2])
		}
		else requestAnimationFrame(look)
	}
	look()
})`

// clickOn clicks in the middle of an element. What came to the page in that moment may have
// pushed it away: a person sees that and clicks again.
func (p *page) clickOn(expression string, values ...any) {
	p.Helper()
	for range 3 {
		at, err := chromedp.Run(p.ctx, chromedp.Evaluate[[]float64](fmt.Sprintf(whereItRests, fill(expression, values)),
			chromedp.EvalAwaitPromise))
		if err != nil {
			p.Fatalf("%s: %v", fill(expression, values), err)
		}
		p.do(chromedp.MouseClickXY(at[0], at[1]))
		missed, err := chromedp.Run(p.ctx, chromedp.Evaluate[bool]("window.missed === true"))
		if err != nil || !missed { // an error: the click has led to another page
			return
		}
		p.Logf("the click missed %s", fill(expression, values))
	}
	p.picture(filepath.Join(os.TempDir(), "dorvet-failed.png"))
	p.Fatalf("something covers it, or it moves away from every click: %s", fill(expression, values))
}

// focus puts the focus on a control.
func (p *page) focus(role, name string) {
	p.Helper()
	p.until(control, role, name)
	js[bool](p, "(e => { e.focus(); return true })("+control+")", role, name)
}

// press presses keys one after the other, alt and ctrl with that key held.
func (p *page) press(keys string) { p.Helper(); p.keys(keys, 0) }
func (p *page) alt(keys string)   { p.Helper(); p.keys(keys, chromedp.ModifierAlt) }
func (p *page) ctrl(keys string)  { p.Helper(); p.keys(keys, chromedp.ModifierCtrl) }

// keys presses keys as a keyboard does: the character comes with the key, so that a
// list that takes the key keeps it out of a field that the key opens.
func (p *page) keys(keys string, held chromedp.Modifier) {
	p.Helper()
	p.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		for _, r := range keys {
			down, up, text := &input.DispatchKeyEventParams{}, &input.DispatchKeyEventParams{}, ""
			for _, k := range kb.Encode(r) {
				switch k.Type {
				case kb.KeyDown:
					down = k
				case kb.KeyUp:
					up = k
				case kb.KeyChar:
					text = k.Text
				}
			}
			down.Modifiers |= int64(held)
			up.Modifiers |= int64(held)
			if held == 0 {
				down.Text = text
			}
			for _, k := range []*input.DispatchKeyEventParams{down, up} {
				if _, err := cdp.Call(ctx, t, input.DispatchKeyEvent, *k); err != nil {
					return err
				}
			}
		}
		return nil
	}))
}

// invoice opens the invoice of a number, or the draft of a client.
func (p *page) invoice(of string) {
	p.Helper()
	id, err := chromedp.Run(p.ctx, chromedp.Evaluate[int](fill(`Promise.all(["/api/drafts", "/api/invoices?limit=2000"].map(a => fetch(a).then(r => r.json()).then(r => r.invoices ?? r)))
		.then(lists => lists.flat().find(i => i.number === %v || !i.number && i.client === %v)?.id ?? 0)`, []any{of, of}),
		chromedp.EvalAwaitPromise))
	if err != nil || id == 0 {
		p.Fatalf("there is no invoice of %s: %v", of, err)
	}
	p.goTo(fmt.Sprintf("/billing/%d", id))
}

// goTo opens an address of the application.
func (p *page) goTo(path string) {
	p.Helper()
	p.do(chromedp.Navigate(p.address + path))
}

// upload chooses a file in the one file field of the page.
func (p *page) upload(path string) {
	p.Helper()
	p.do(chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{path}))
}

// reads waits until the page shows a text.
func (p *page) reads(text string) {
	p.Helper()
	p.until("document.body.innerText.includes(%v)", text)
}

// text is what the first element of a selector reads.
func (p *page) text(selector string) string {
	p.Helper()
	p.until("document.querySelector(%v)", selector)
	return js[string](p, "document.querySelector(%v).innerText.trim()", selector)
}

// signIn signs in as one of the demo's people and opens the first page. The page of the
// sign-in itself is tested by the keyboard, in the month end.
func (p *page) signIn(role string) {
	p.Helper()
	p.enter(role)
	p.goTo("/")
	p.until("document.querySelector('.rail_rail-me')")
}

// enter signs in, and opens no page yet.
func (p *page) enter(role string) {
	p.Helper()
	p.goTo("/healthz") // of the server, and quickly there
	mail := map[string]string{"administrator": "maren", "lead": "ines", "staff": "tomas", "owner": "astrid"}[role] + "@skerrow.example"
	status, err := chromedp.Run(p.ctx, chromedp.Evaluate[int](fill(`fetch("/api/session", { method: "POST", headers: { "Content-Type": "application/json" },
		body: JSON.stringify({ mail: %v, password: "high-water-mark" }) }).then(r => r.status)`, []any{mail}), chromedp.EvalAwaitPromise))
	if err != nil || status != 200 {
		p.Fatalf("sign in as the %s: %d, %v", role, status, err)
	}
}

// proves types the password once more, where it is asked for.
func (p *page) proves(password string) {
	p.Helper()
	p.reads("Your password, once more")
	p.focus("field", "Your password")
	p.press(password + "\r")
}

// still waits for the typeface and three quiet frames.
func (p *page) still() {
	p.Helper()
	_, err := chromedp.Run(p.ctx, chromedp.Evaluate[bool](`document.fonts.ready.then(() => new Promise(done => {
		let frames = 0; const next = () => ++frames > 3 ? done(true) : requestAnimationFrame(next); next() }))`, chromedp.EvalAwaitPromise))
	if err != nil {
		p.Fatal(err)
	}
}

func (p *page) picture(path string) {
	p.Helper()
	p.still()
	png, err := chromedp.Run(p.ctx, chromedp.CaptureScreenshot())
	if err != nil {
		p.Fatal(err)
	}
	if err := os.WriteFile(path, png, 0o644); err != nil {
		p.Fatal(err)
	}
}
