package e2e

import (
	"context"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/stages/signoff"
)

// A sheet is made, looked at by a client on a phone, answered, and the
// answer is there; then as one file that is opened from a folder.
func TestSignOffFromSheetToAnswer(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/signoff")
	b.MustElement("#sheet-maker").MustInput("Moth & Marrow")
	b.MustElement("#sheet-terms").MustInput("Half before the first cut.")
	b.click("#make-it")
	b.until("the sheet is made", `() => !!document.querySelector('#see-it')`)
	assert.Contains(t, b.text("#unchanged"), "No changes since sheet 1")
	at := *b.MustElement("#see-it").MustAttribute("href")
	at = at[:len(at)-len("?own=1")]

	n := s.openAt("/", 390, 844)
	n.MustNavigate(s.url + at).MustWaitLoad()
	assert.Equal(t, "Stage curtain", n.MustElement("h1").MustText())
	wide := n.MustElement("main").MustShape().Box()
	assert.LessOrEqual(t, wide.X+wide.Width, 390.0, "nothing runs off the side")
	assert.GreaterOrEqual(t, n.MustElement("[name=verdict]").MustShape().Box().Height, 44.0)
	n.MustElement("#remark").MustInput("A little warmer, please.")
	n.MustElement("#name").MustInput("A Client")
	n.MustElement("[value=change]").MustClick()
	n.MustElement(".thanks")
	b.visit("/plans/9/signoff")
	assert.Contains(t, b.text("#said-last"), "A Client asked for changes")
	assert.Contains(t, b.text("#said-last"), "A little warmer, please.")
	b.visit("/")
	assert.Contains(t, b.text("#news"), "A Client has asked for changes to Stage curtain (sheet 1)")

	// The one file, from a folder, by keys; its answer is pasted.
	r, err := http.Get(s.url + "/plans/9/sheet.html?number=1")
	require.NoError(t, err)
	data, err := io.ReadAll(r.Body)
	require.NoError(t, err)
	r.Body.Close()
	file := filepath.Join(t.TempDir(), "sheet.html")
	require.NoError(t, os.WriteFile(file, data, 0o644))
	f := s.openAt("/", 390, 844)
	f.MustNavigate("file://" + file).MustWaitLoad()
	f.MustElement("#name").MustFocus()
	f.MustElement("#name").MustInput("Zoë")
	f.Keyboard.MustType(input.Enter)
	f.MustWait(`() => document.querySelector('#made-text').value.startsWith('LAMPFERN1.1.')`)
	text := f.MustElement("#made-text").MustProperty("value").Str()
	b.visit("/plans/9/signoff")
	b.click("#answers-in summary")
	b.MustElement("#answer-text").MustInput(text[:len(text)-1] + "0")
	if text[len(text)-1] == '0' {
		b.MustElement("#answer-text").MustSelectAllText().MustInput(text[:len(text)-1] + "1")
	}
	b.click("#paste button")
	assert.Contains(t, b.text("#flashes, [role=alert]"), "That reply was changed")
	b.MustElement("#answer-text").MustSelectAllText().MustInput(text)
	b.click("#paste button")
	b.until("the answer is there", `() => document.querySelector('#said-last')?.textContent.includes('Zoë agreed')`)
	all, err := signoff.SheetsOf(context.Background(), s.work, 9)
	require.NoError(t, err)
	assert.Len(t, all[0].Answers, 2)

	// On a slow phone: four times slower, 1.6 Mbit/s and 150 ms away.
	slow := s.openAt("/", 390, 844)
	require.NoError(t, proto.EmulationSetCPUThrottlingRate{Rate: 4}.Call(slow))
	require.NoError(t, proto.NetworkEmulateNetworkConditions{Latency: 150, DownloadThroughput: 200_000, UploadThroughput: 90_000}.Call(slow))
	require.NoError(t, proto.NetworkSetCacheDisabled{CacheDisabled: true}.Call(slow))
	began := time.Now()
	slow.MustNavigate(s.url + at).MustWaitLoad()
	took := slow.MustEval(`() => performance.getEntriesByType('resource').filter((e) => e.name.includes('piece.svg'))[0].responseEnd`).Num()
	bytes := slow.MustEval(`() => performance.getEntries().reduce((sum, e) => sum + (e.transferSize ?? 0), 0)`).Num()
	t.Logf("the picture was there after %.0f ms, all after %d ms, %.0f kB", took, time.Since(began).Milliseconds(), bytes/1000)
	assert.Less(t, bytes, 150_000.0)
}
