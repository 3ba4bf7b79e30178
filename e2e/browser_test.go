// Package e2e drives the real interface in headless Chromium, by mouse and by
// keyboard, against a real server with the demo workroom.
package e2e

import (
	"context"
	"flag"
	"fmt"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/launcher/flags"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"

	"lampfern/demo"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/stages"
	"lampfern/standin"
	"lampfern/store"
	"lampfern/testroom"
	"lampfern/web"
)

// chromium is Debian's; Rod's own download is never wanted.
const chromium = "/usr/bin/chromium"

var shots = flag.String("shots", "", "folder to write the README's screenshots to")

// browsers are a pool: a test has one to itself for as long as it runs.
var browsers chan *rod.Browser

func TestMain(m *testing.M) {
	flag.Parse()
	atOnce := flag.Lookup("test.parallel").Value.(flag.Getter).Get().(int)
	browsers = make(chan *rod.Browser, atOnce)
	var leave []func()
	for range atOnce {
		b, l, err := launch()
		if err != nil {
			fmt.Fprintln(os.Stderr, "Chromium could not be started; ./test installs it:", err)
			os.Exit(1)
		}
		browsers <- b
		leave = append(leave, b.MustClose, l.Cleanup)
	}
	code := m.Run()
	for _, f := range leave {
		f()
	}
	os.Exit(code)
}

// launch starts Chromium without a window and without anything that goes out to others.
func launch() (*rod.Browser, *launcher.Launcher, error) {
	l := launcher.New().Bin(chromium).NoSandbox(true).Headless(true)
	for _, f := range []string{"disable-gpu", "disable-background-networking", "disable-component-update", "disable-sync", "disable-quic",
		"no-first-run", "disable-renderer-backgrounding", "disable-background-timer-throttling", "disable-backgrounding-occluded-windows"} {
		l = l.Set(flags.Flag(f))
	}
	l = l.Set("force-color-profile", "srgb").Set("disable-features", "PreloadTopChromeWebUI", "WebUIReloadButton", "InitialWebUI", "Translate",
		"OptimizationHints", "MediaRouter")
	address, err := l.Launch()
	if err != nil {
		return nil, nil, err
	}
	return rod.New().ControlURL(address).MustConnect().NoDefaultDevice(), l, nil
}

// site is a running server on a data folder of its own.
type site struct {
	t    *testing.T
	url  string
	work *plan.Desk
}

// serve starts a server with the demo workroom, or with an empty one.
func serve(t *testing.T, full bool) *site {
	t.Helper()
	dir := t.TempDir()
	if full {
		dir = testroom.Filled(t, func(k *plan.Desk) error { return demo.Load(context.Background(), k) }, stages.All())
	}
	st, err := store.Open(dir)
	require.NoError(t, err)
	work := plan.NewDesk(shelf.New(st), stages.All())
	work.ReaderAddress = reader(t)
	prices := httptest.NewServer(standin.Supplier())
	t.Cleanup(prices.Close)
	work.PricesAddress = prices.URL
	h, err := web.New(work, web.Options{}, stages.Rooms())
	require.NoError(t, err)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	srv := web.HTTPServer(h)
	go func() { _ = srv.Serve(l) }()
	t.Cleanup(func() {
		ctx, cancel := context.WithTimeout(context.Background(), time.Second)
		defer cancel()
		if srv.Shutdown(ctx) != nil {
			srv.Close()
		}
		st.Close()
	})
	return &site{t, "http://" + l.Addr().String(), work}
}

// reader starts a simulated colour reader.
func reader(t *testing.T) string {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	ctx, stop := context.WithCancel(context.Background())
	t.Cleanup(stop)
	go func() { _ = standin.NewReader(1).Serve(ctx, l) }()
	return l.Addr().String()
}

// held are the browsers of tests that run.
var held sync.Map

// browserOf is the test's own browser for as long as it runs.
func browserOf(t *testing.T) *rod.Browser {
	if b, has := held.Load(t); has {
		return b.(*rod.Browser)
	}
	b := <-browsers
	held.Store(t, b)
	t.Cleanup(func() { held.Delete(t); browsers <- b })
	return b
}

// tab is one browser tab with short ways to do what a maker does.
type tab struct {
	*rod.Page
	t *testing.T
	s *site
}

func (s *site) open(path string) *tab { return s.openAt(path, 1280, 800) }

func (s *site) openAt(path string, w, h int) *tab {
	s.t.Helper()
	p := browserOf(s.t).MustIncognito().MustPage().Timeout(300 * time.Second)
	s.t.Cleanup(func() { _ = p.Close() })
	tb := &tab{p, s.t, s}
	tb.size(w, h)
	p.MustEvalOnNewDocument(`addEventListener('beforeunload', () => { window.leaving = true; });
		addEventListener('submit', e => { if (!e.defaultPrevented && e.target.method !== 'dialog') window.leaving = true; });`)
	tb.visit(path)
	return tb
}

// size makes the window so many pixels wide and high.
func (b *tab) size(w, h int) {
	b.t.Helper()
	require.NoError(b.t, b.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: w, Height: h, DeviceScaleFactor: 1}))
}

func (b *tab) visit(path string) {
	b.t.Helper()
	require.NoError(b.t, b.Navigate(b.s.url+path))
	require.NoError(b.t, b.WaitLoad())
	b.settle()
}

// settle waits until every change that was sent is answered and shown.
func (b *tab) settle() {
	b.t.Helper()
	b.until("the page to settle",
		`() => !window.leaving && document.readyState === 'complete' && !!document.getElementById('bench') && !document.getElementById('bench').hasAttribute('aria-busy')`)
}

// until waits for a condition in the page, through any loading of another.
func (b *tab) until(what, condition string, args ...any) {
	b.t.Helper()
	// The page looks by itself, a while at a time, for asking it again and again keeps both busy.
	look := `async (...args) => {
		for (const end = Date.now() + 500; Date.now() < end; await new Promise((next) => setTimeout(next, 5))) if (await (` + condition + `)(...args)) return true;
		return false;
	}`
	for end := time.Now().Add(15 * time.Second); time.Now().Before(end); {
		if v, err := b.Eval(look, args...); err != nil {
			time.Sleep(5 * time.Millisecond) // another page is loaded
		} else if v.Value.Bool() {
			return
		}
	}
	b.t.Fatalf("waited in vain for %s", what)
}

// unfold opens what is folded.
func (b *tab) unfold(id string) {
	b.t.Helper()
	b.MustElement("#" + id).MustEval(`() => { this.open = true }`)
}

func (b *tab) click(selector string) {
	b.t.Helper()
	b.MustElement(selector).MustClick()
	b.settle()
}

// clickText clicks the first element of the selector that holds the words.
func (b *tab) clickText(selector, words string) {
	b.t.Helper()
	b.MustElementR(selector, words).MustClick()
	b.settle()
}

// press types keys one after another, settling after each.
func (b *tab) press(keys ...input.Key) {
	b.t.Helper()
	for _, k := range keys {
		require.NoError(b.t, b.Keyboard.Type(k))
		b.settle()
	}
}

func (b *tab) text(selector string) string {
	b.t.Helper()
	return b.MustElement(selector).MustText()
}

func (b *tab) texts(selector string) []string {
	b.t.Helper()
	var out []string
	for _, e := range b.MustElements(selector) {
		out = append(out, strings.TrimSpace(e.MustText()))
	}
	return out
}

func (b *tab) shot(name string) {
	b.t.Helper()
	require.NoError(b.t, os.MkdirAll(*shots, 0o755))
	b.MustWait(`() => document.fonts.status === 'loaded'`)
	data, err := b.Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
	require.NoError(b.t, err)
	require.NoError(b.t, os.WriteFile(filepath.Join(*shots, name+".png"), data, 0o644))
}

// get fetches a path without a browser.
func (s *site) get(path string) *http.Response {
	s.t.Helper()
	r, err := http.Get(s.url + path)
	require.NoError(s.t, err)
	s.t.Cleanup(func() { r.Body.Close() })
	return r
}
