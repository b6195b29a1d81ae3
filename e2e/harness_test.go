// Package e2e drives the real program through a real browser.
package e2e

import (
	"bufio"
	"context"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"heptad/internal/demo"
)

// patience is how long a screen, or the program, may take to show something. It
// ends a test that has failed; a machine that is busy must not fail one.
const patience = 60 * time.Second

var (
	program string          // the built program
	loaded  string          // folder of those with the demo's data as it begins
	chrome  context.Context // the browser that all tests share, each with a profile of its own
)

func TestMain(m *testing.M) { os.Exit(run(m)) }

func run(m *testing.M) int {
	dir, err := os.MkdirTemp("", "heptad-e2e-")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer func() { _ = os.RemoveAll(dir) }()
	program, loaded = filepath.Join(dir, "heptad"), filepath.Join(dir, "loaded")
	build := exec.Command("go", "build", "-o", program, "../cmd/heptad")
	build.Stderr = os.Stderr
	if build.Run() != nil {
		return 1
	}
	options := chromedp.DefaultExecAllocatorOptions[:]
	if shell, err := exec.LookPath("chromium-headless-shell"); err == nil { // the same, without what only a window needs
		options = append(options, chromedp.ExecPath(shell))
	}
	alloc, endAlloc := chromedp.NewExecAllocator(context.Background(), append(options,
		chromedp.NoSandbox, chromedp.DisableGPU, chromedp.WindowSize(1280, 800), chromedp.UserDataDir(filepath.Join(dir, "profile")),
		chromedp.Flag("disable-background-networking", true), chromedp.Flag("disable-component-update", true),
		chromedp.Flag("disable-sync", true), chromedp.Flag("disable-quic", true), chromedp.Flag("no-first-run", true),
		chromedp.Flag("force-prefers-reduced-motion", true),
	)...)
	defer endAlloc()
	var end context.CancelFunc
	chrome, end = chromedp.NewContext(alloc)
	defer end()
	if err := chromedp.Do(chrome); err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	return m.Run()
}

// server is a running `heptad demo`.
type server struct {
	t       *testing.T
	dir     string
	season  bool // the demo begins with the requests of a season, not with those of a quiet week
	years   bool // and with the two years before it
	rough   bool // it has the limits of every day, and 1 GB of memory
	url     string
	mailbox string   // URL of the simulated mail server's page
	systems []string // URLs of the other simulators' pages: directory, licences, badges, purchasing, berths
	process *exec.Cmd
	lived   chan struct{} // closed once the two years are there
}

// startServer runs the demo on a free port with fresh data.
func startServer(t *testing.T) *server {
	t.Helper()
	return serve(t, false)
}

func serve(t *testing.T, season bool) *server {
	t.Helper()
	s := &server{t: t, dir: t.TempDir(), season: season}
	require.NoError(t, os.CopyFS(s.dir, os.DirFS(begun(t, season))))
	s.start("127.0.0.1:0")
	t.Cleanup(func() { s.stop(syscall.SIGTERM) })
	return s
}

// serveYears runs the demo with all that it has behind it.
func serveYears(t *testing.T) *server {
	t.Helper()
	s := &server{t: t, dir: t.TempDir(), season: true, years: true}
	require.NoError(t, os.CopyFS(s.dir, os.DirFS(begun(t, true))))
	s.start("127.0.0.1:0")
	t.Cleanup(func() { s.stop(syscall.SIGTERM) })
	select {
	case <-s.lived:
	case <-time.After(5 * patience):
		require.Fail(t, "the two years are not there")
	}
	return s
}

// loading is held by the test that loads the demo's data for all of its kind.
var loading sync.Mutex

// begun is the folder with the demo's data as it begins.
func begun(t *testing.T, season bool) string {
	t.Helper()
	loading.Lock()
	defer loading.Unlock()
	dir := filepath.Join(loaded, fmt.Sprint(season))
	if _, err := os.Stat(dir); err != nil {
		first := &server{t: t, dir: dir + "-loading", season: season}
		first.start("127.0.0.1:0")
		require.NoError(t, first.stop(syscall.SIGTERM))
		require.NoError(t, os.Rename(first.dir, dir))
	}
	return dir
}

func (s *server) start(addr string, flags ...string) {
	s.t.Helper()
	if !s.season {
		flags = append(flags, "--quiet")
	}
	if !s.rough { // tests do in a second what people do in an hour
		flags = append(flags, "--limit-writes=100000", "--limit-writes-burst=100000", "--limit-lookups=100000", "--limit-lookups-burst=100000", "--limit-uploads=100000", "--limit-strangers=100000", "--limit-stranger-burst=100000")
	}
	if !s.years {
		flags = append(flags, "--young")
	}
	s.process = exec.Command(program, append([]string{"demo", "--addr", addr, "--data", s.dir}, flags...)...)
	if s.rough {
		s.process = exec.Command("sh", append([]string{"-c", `ulimit -d 1048576; exec "$0" "$@"`}, s.process.Args...)...)
		s.process.Env = append(os.Environ(), "GOMEMLIMIT=900MiB")
	}
	s.process.Stderr = &logged{t: s.t}
	out, err := s.process.StdoutPipe()
	require.NoError(s.t, err)
	require.NoError(s.t, s.process.Start())
	started := s.process.Process
	s.t.Cleanup(func() { _ = started.Kill() }) // should the test end before it stops it
	lines := make(chan string, 7)
	s.lived = make(chan struct{})
	go func() {
		reader := bufio.NewReader(out)
		for range 7 {
			text, _ := reader.ReadString('\n')
			lines <- text
		}
		for text, err := "", error(nil); err == nil; text, err = reader.ReadString('\n') {
			if strings.HasPrefix(text, "The two years") {
				close(s.lived)
			}
		}
	}()
	s.systems = make([]string, 5)
	for _, address := range []*string{&s.url, &s.mailbox, &s.systems[0], &s.systems[1], &s.systems[2], &s.systems[3], &s.systems[4]} {
		select {
		case text := <-lines:
			_, url, found := strings.Cut(strings.TrimSpace(text), "http://")
			require.True(s.t, found, "the demo prints its address, not %q", text)
			*address = "http://" + url
		case <-time.After(patience):
			require.Fail(s.t, "the demo does not start")
		}
	}
}

// stop ends the process with a signal and waits for it.
func (s *server) stop(signal syscall.Signal) error {
	_ = s.process.Process.Signal(signal)
	return s.process.Wait()
}

// restart kills the process without a warning and starts it at the same place.
func (s *server) restart() {
	s.t.Helper()
	_ = s.stop(syscall.SIGKILL)
	s.start(strings.TrimPrefix(s.url, "http://"))
}

// logged puts what the program logs into the test's log.
type logged struct {
	t  *testing.T
	mu sync.Mutex
}

func (l *logged) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if !strings.Contains(string(p), "level=INFO") {
		l.t.Log(strings.TrimSpace(string(p)))
	}
	return len(p), nil
}

// browser is one tab with a fresh profile.
type browser struct {
	t       *testing.T
	ctx     context.Context
	url     string
	mu      sync.Mutex
	console []string
	acts    int // what a person would have done: each thing pressed, typed, chosen or opened
}

// openBrowser opens a tab. When the test fails, a picture of the screen
// and the console are kept in the folder failures.
func (s *server) openBrowser() *browser {
	s.t.Helper()
	ctx, end := chromedp.NewContext(chrome, chromedp.WithNewBrowserContext())
	b := &browser{t: s.t, ctx: ctx, url: s.url}
	require.NoError(s.t, chromedp.Do(ctx, chromedp.EmulateViewport(1280, 800)))
	_, err := chromedp.Call(ctx, emulation.SetFocusEmulationEnabled, emulation.SetFocusEmulationEnabledParams{Enabled: true}) // each has the focus
	require.NoError(s.t, err)
	go func() {
		for message, err := range chromedp.Console(ctx) {
			if err != nil {
				return
			}
			b.mu.Lock()
			b.console = append(b.console, fmt.Sprint(message))
			b.mu.Unlock()
		}
	}()
	s.t.Cleanup(func() {
		if s.t.Failed() {
			b.keepFailure()
		}
		end()
	})
	return b
}

func (b *browser) keepFailure() {
	name := filepath.Join("failures", strings.ReplaceAll(b.t.Name(), "/", "-"))
	_ = os.MkdirAll("failures", 0o755)
	ctx, cancel := context.WithTimeout(b.ctx, 5*time.Second)
	defer cancel()
	if picture, err := chromedp.Run(ctx, chromedp.CaptureScreenshot()); err == nil {
		_ = os.WriteFile(name+".png", picture, 0o644)
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	_ = os.WriteFile(name+".log", []byte(strings.Join(b.console, "\n")), 0o644)
	b.t.Logf("the screen is kept as e2e/%s.png; console: %s", name, strings.Join(b.console, " | "))
}

// do runs actions, and fails the test when they do not work in time.
func (b *browser) do(actions ...chromedp.Action[chromedp.Void]) {
	b.t.Helper()
	ctx, cancel := context.WithTimeout(b.ctx, patience)
	defer cancel()
	require.NoError(b.t, chromedp.Do(ctx, actions...))
}

// open goes to a path of the program.
func (b *browser) open(path string) {
	b.t.Helper()
	b.acts++
	b.do(chromedp.Navigate(b.url + path))
}

// signIn chooses a person at the door.
func (b *browser) signIn(name string) {
	b.t.Helper()
	b.do(
		chromedp.Navigate(b.url+"/heptagon.svg"), // leave the page, then the session
		chromedp.Evaluate[chromedp.Void](`fetch('/api/session', {method: 'DELETE'})`, chromedp.EvalAwaitPromise),
		chromedp.Navigate(b.url+"/"),
	)
	b.click(name)
	b.there(`[data-desk=ask]`)
}

// see waits until a text stands on the screen.
func (b *browser) see(text string) {
	b.t.Helper()
	b.until("see "+text, `document.body.innerText.includes(%q)`, text)
}

// gone waits until a text stands nowhere on the screen.
func (b *browser) gone(text string) {
	b.t.Helper()
	b.until("no more "+text, `!document.body.innerText.includes(%q)`, text)
}

// there waits until something that a selector finds is on the screen.
func (b *browser) there(selector string) {
	b.t.Helper()
	b.until("find "+selector, `!!document.querySelector(%q)`, selector)
}

// has reports whether something that a selector finds is on the screen now.
func (b *browser) has(selector string) bool {
	b.t.Helper()
	return b.is(fmt.Sprintf(`!!document.querySelector(%q)`, selector))
}

// until waits for a condition in the page, over any change of page.
func (b *browser) until(what, condition string, args ...any) {
	b.t.Helper()
	if len(args) > 0 {
		condition = fmt.Sprintf(condition, args...)
	}
	ctx, cancel := context.WithTimeout(b.ctx, patience)
	defer cancel()
	every := time.NewTicker(40 * time.Millisecond)
	defer every.Stop()
	for {
		if yes, err := chromedp.Run(ctx, chromedp.Evaluate[bool]("!!("+condition+")")); err == nil && yes {
			return
		}
		select {
		case <-ctx.Done():
			require.Fail(b.t, "this did not come about in time: "+what)
		case <-every.C:
		}
	}
}

// script runs a script in the page.
func (b *browser) script(source string, args ...any) {
	b.t.Helper()
	b.do(chromedp.Evaluate[chromedp.Void](fmt.Sprintf(source, args...)))
}

// click presses the button, link, radio or tick whose words are the text, or
// else begin with it.
func (b *browser) click(text string) {
	b.t.Helper()
	b.acts++
	const find = `(() => {
		const want = %q;
		const words = (e) => (e.getAttribute('aria-label') || e.innerText || '').replace(/\s+/g, ' ').trim();
		const all = [...document.querySelectorAll('button, a, summary, label:has(input[type=radio]), label:has(input[type=checkbox])')]
			.filter((e) => e.checkVisibility() && !e.disabled);
		return all.find((e) => words(e) === want) ?? all.find((e) => words(e).startsWith(want));
	})()`
	b.until("something to press that says "+text, `!!`+find, text)
	b.script(find+`.click()`, text)
}

// openTask opens the first task in the list that names somebody.
func (b *browser) openTask(name string) {
	b.t.Helper()
	b.see(name)
	b.script(`[...document.querySelectorAll('.task > a')].find((a) => a.innerText.includes(%q)).click()`, name)
}

// approve says yes on the decision that is open.
func (b *browser) approve() {
	b.t.Helper()
	b.click("Approve")
	b.see("You approved this.")
}

// press clicks what a selector finds.
func (b *browser) press(selector string) {
	b.t.Helper()
	b.acts++
	b.there(selector)
	b.script(`document.querySelector(%q).click()`, selector)
}

// menu opens a menu and walks to one of its deeds.
func (b *browser) menu(name, deed string) {
	b.t.Helper()
	b.press(fmt.Sprintf(`[data-menu=%q]`, name))
	b.until("the menu has the focus", `document.activeElement?.matches('[role=menu]')`)
	for range 9 {
		b.keys(kb.ArrowDown)
		if b.is(fmt.Sprintf(`document.querySelector('[role=menuitem][data-highlighted]')?.innerText.trim() === %q`, deed)) {
			b.keys("\r")
			return
		}
	}
	require.Fail(b.t, "the menu "+name+" has no "+deed)
}

// write types a text into a field in place of what is there, and leaves it.
func (b *browser) write(selector, text string) {
	b.t.Helper()
	b.acts++
	b.there(selector)
	b.settled()
	for range 5 { // a change of page that ends just now takes the focus away
		b.script(`(() => { const f = document.querySelector(%q); f.focus(); f.select?.(); })()`, selector)
		b.do(chromedp.KeyEvent(text))
		if strings.HasSuffix(text, "\r") || b.value(selector) == text {
			b.script(`document.activeElement.blur()`)
			return
		}
	}
	require.Fail(b.t, "nothing can be typed into "+selector)
}

// settled waits until no change of page is under way, after which the focus
// would be set anew.
func (b *browser) settled() {
	b.t.Helper()
	b.until("the page has settled", `!document.querySelector('.underway.on')`)
}

// set gives a field a value that is not typed: a date, or an entry of a list.
func (b *browser) set(selector, value string) {
	b.t.Helper()
	b.acts++
	b.there(selector)
	b.script(`(() => {
		const field = document.querySelector(%q);
		field.focus();
		field.value = %q;
		field.dispatchEvent(new Event('input', {bubbles: true}));
		field.dispatchEvent(new Event('change', {bubbles: true}));
		field.blur();
	})()`, selector, value)
}

// sent waits until a request was sent, and gives its ID.
func (b *browser) sent() string {
	b.t.Helper()
	b.there(`[data-reference]`)
	return strings.TrimSuffix(strings.TrimPrefix(b.path(), "/follow/"), "?sent")
}

// text reads what stands where a selector finds it.
func (b *browser) text(selector string) string {
	b.t.Helper()
	b.there(selector)
	out, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](fmt.Sprintf(`document.querySelector(%q).innerText`, selector)))
	require.NoError(b.t, err)
	return strings.TrimSpace(out)
}

// reload reads the page anew, as the person would.
func (b *browser) reload() {
	b.t.Helper()
	b.do(chromedp.Reload())
}

// picture takes a PNG of the screen.
func (b *browser) picture(file string) {
	b.t.Helper()
	picture, err := chromedp.Run(b.ctx, chromedp.CaptureScreenshot())
	require.NoError(b.t, err)
	require.NoError(b.t, os.WriteFile(file, picture, 0o644))
}

// ownerID is the catalog owner of the demo.
var ownerID = demo.ID("falkenau")

func body(t *testing.T, response *http.Response) string {
	t.Helper()
	data, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	return string(data)
}

// get asks the program without a browser.
func (s *server) get(path string) *http.Response {
	s.t.Helper()
	response, err := http.Get(s.url + path)
	require.NoError(s.t, err)
	s.t.Cleanup(func() { _ = response.Body.Close() })
	return response
}
