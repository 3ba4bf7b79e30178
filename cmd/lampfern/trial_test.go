package main

import (
	"bytes"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/store"
)

// trialOf is how much of a trial is asked for by ./trials; a trial that is not is skipped.
func trialOf(t *testing.T, what string) int {
	t.Helper()
	n, err := strconv.Atoi(os.Getenv("LAMPFERN_" + what))
	if err != nil || n < 1 {
		t.Skip("trials run for minutes: ./trials runs them")
	}
	return n
}

// follows is a client that does not follow redirects, and gives up after a while.
func follows(after time.Duration) *http.Client {
	return &http.Client{Timeout: after, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
}

var (
	revisionOf  = regexp.MustCompile(`data-revision="(\d+)"`)
	rowRevision = regexp.MustCompile(`name="revision" value="(\d+)"`)
)

// read gets a page and returns its status and text.
func read(c *http.Client, at string) (int, string, error) {
	res, err := c.Get(at)
	if err != nil {
		return 0, "", err
	}
	defer res.Body.Close()
	body, err := io.ReadAll(res.Body)
	return res.StatusCode, string(body), err
}

// TestTrialKill kills the program at random moments under mixed writes: materials, cards of a
// plan, colours pasted. What was answered must be there, and the database whole.
func TestTrialKill(t *testing.T) {
	rounds := trialOf(t, "KILLS")
	data := t.TempDir()
	p := start(t, "demo", "--data", data)
	require.NoError(t, p.Process.Signal(os.Interrupt))
	<-p.rest
	_ = p.Wait()
	acknowledged, asked := []string{}, 0
	for round := range rounds {
		p := start(t, "serve", "--data", data)
		wait := time.Duration(20+rand.IntN(400)) * time.Millisecond
		time.AfterFunc(wait, func() { _ = p.Process.Signal(syscall.SIGKILL) })
		var mu sync.Mutex
		var clients sync.WaitGroup
		for who := range 4 {
			clients.Go(func() {
				c := follows(5 * time.Second)
				plan := p.url + fmt.Sprintf("/plans/%d", who+1)
				for n := 0; ; n++ {
					name := fmt.Sprintf("K%d-%d-%d", round, who, n)
					var res *http.Response
					var err error
					switch who {
					case 0, 2:
						res, err = c.PostForm(p.url+"/shelf/new", url.Values{"name": {name}, "colour": {fmt.Sprintf("#%06x", rand.IntN(1<<24))}})
					case 1:
						res, err = c.PostForm(p.url+"/plans", url.Values{"name": {name}, "craft": {"quilt"}})
					default: // a change of a plan, of which so many are taken as fit; further ones are refused
						_, page, e := read(c, plan+"/values")
						rev := revisionOf.FindStringSubmatch(page)
						if e != nil || rev == nil {
							return
						}
						fields := url.Values{"revision": {rev[1]}, "stage": {"values"}, "do": {"dismiss"}, "note": {name}}
						r, _ := http.NewRequest("POST", plan+"/change", strings.NewReader(fields.Encode()))
						r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
						r.Header.Set("X-Lampfern-Part", "1")
						if res, err = c.Do(r); err == nil && res.StatusCode == http.StatusOK {
							name, res.StatusCode = "4 "+name, http.StatusSeeOther
						}
					}
					if err != nil {
						return // killed
					}
					_, _ = io.Copy(io.Discard, res.Body)
					res.Body.Close()
					mu.Lock()
					asked++
					if name != "" && res.StatusCode == http.StatusSeeOther {
						acknowledged = append(acknowledged, name)
					}
					mu.Unlock()
				}
			})
		}
		clients.Wait()
		_ = p.Wait()
	}
	s, err := store.Open(data)
	require.NoError(t, err)
	defer s.Close()
	r, err := s.Check(t.Context())
	require.NoError(t, err)
	assert.True(t, r.Good(), "%v", r.Wrong)
	all, err := s.Read(t.Context()).Materials()
	require.NoError(t, err)
	there := map[string]bool{}
	for _, m := range all {
		there[m.Name] = true
	}
	plans, err := s.Read(t.Context()).Plans()
	require.NoError(t, err)
	for _, p := range plans {
		there[p.Name] = true
	}
	_, sections, err := s.Read(t.Context()).Plan(4)
	require.NoError(t, err)
	for _, sec := range sections {
		for _, n := range regexp.MustCompile(`K\d+-\d+-\d+`).FindAllString(string(sec.Doc), -1) {
			there["4 "+n] = true
		}
	}
	lost := slices.DeleteFunc(slices.Clone(acknowledged), func(n string) bool { return there[n] })
	assert.Empty(t, lost)
	t.Logf("killed %d times: %d writes asked for, %d acknowledged, lost %d; the database is whole: %v", rounds, asked, len(acknowledged),
		len(lost), r.Good())
}

// TestTrialClients lets many clients read and write at once for a while, over ten plans and one
// shelf: nothing but honest conflicts, and answers in time.
func TestTrialClients(t *testing.T) {
	seconds := trialOf(t, "SECONDS")
	const clients = 64
	p := start(t, "demo", "--data", t.TempDir())
	_, err := follows(5*time.Second).PostForm(p.url+"/plans", url.Values{"name": {"Tenth"}, "craft": {"quilt"}})
	require.NoError(t, err)
	end := time.Now().Add(time.Duration(seconds) * time.Second)
	var mu sync.Mutex
	var took []time.Duration
	counts, by := map[string]int{}, map[string][]time.Duration{}
	var wait sync.WaitGroup
	for who := range clients {
		wait.Go(func() {
			c := follows(30 * time.Second)
			rnd := rand.New(rand.NewPCG(uint64(who), 1))
			own := "" // the client's own material
			for time.Now().Before(end) {
				plan := p.url + fmt.Sprintf("/plans/%d", 1+rnd.IntN(10))
				began := time.Now()
				kind, page, status, err := "read", "", 0, error(nil)
				switch rnd.IntN(6) {
				case 0:
					// Each client adds a material of its own, and then measures it again and again.
					kind = "material"
					fields := url.Values{"name": {fmt.Sprintf("C%d", who)}, "L": {fmt.Sprint(10 + rnd.IntN(80))}, "a": {fmt.Sprint(rnd.IntN(40) - 20)},
						"b": {fmt.Sprint(rnd.IntN(40) - 20)}}
					at := p.url + "/shelf/new"
					if own != "" {
						var text string
						if _, text, err = read(c, p.url+own); err != nil {
							break
						}
						at = p.url + own
						fields.Set("revision", rowRevision.FindStringSubmatch(text)[1])
						began = time.Now()
					}
					var res *http.Response
					if res, err = c.PostForm(at, fields); err == nil {
						status = res.StatusCode
						res.Body.Close()
						if own == "" {
							own = res.Header.Get("Location")
						}
					}
				case 1:
					var text string
					kind = "change"
					if _, text, err = read(c, plan+"/brief"); err == nil {
						rev := revisionOf.FindStringSubmatch(text)
						began = time.Now()
						var res *http.Response
						if res, err = c.PostForm(plan+"/change", url.Values{"revision": {rev[1]}, "stage": {"values"}, "do": {"dismiss"},
							"note": {fmt.Sprint("n", rnd.IntN(9))}}); err == nil {
							status = res.StatusCode
							res.Body.Close()
						}
					}
				default:
					page = []string{"/wheel", "/values", "/proportion", "/gather", "/cards", "/buy"}[rnd.IntN(6)]
					status, _, err = read(c, plan+page)
				}
				mu.Lock()
				took = append(took, time.Since(began))
				tenth := fmt.Sprintf("after %d s", int(time.Duration(seconds)*time.Second-time.Until(end)+time.Second)/int(10*time.Second)*10)
				by[tenth] = append(by[tenth], time.Since(began))
				by[kind+page] = append(by[kind+page], time.Since(began))
				switch {
				case err != nil:
					counts["broken off"]++
				case status == http.StatusConflict:
					counts["honest conflicts"]++
				case status >= 400:
					counts[fmt.Sprint(kind, " ", status)]++
				default:
					counts[kind]++
				}
				mu.Unlock()
			}
		})
	}
	wait.Wait()
	slices.Sort(took)
	t.Logf("%d clients, %d s: %d requests, %v; p50 %v, p99 %v", clients, seconds, len(took), counts, took[len(took)/2].Round(time.Millisecond),
		took[len(took)*99/100].Round(time.Millisecond))
	for kind, all := range by {
		slices.Sort(all)
		t.Logf("  %-16s p50 %v, p99 %v", kind, all[len(all)/2].Round(time.Millisecond), all[len(all)*99/100].Round(time.Millisecond))
	}
	for kind := range counts {
		assert.Contains(t, []string{"read", "material", "change", "honest conflicts"}, kind, "nothing but honest conflicts goes wrong")
	}
	require.NoError(t, p.Process.Signal(os.Interrupt))
	<-p.rest
	assert.NoError(t, p.Wait(), "it closes without complaint, also of the race detector")
}

// TestTrialDoors tries each door that must be shut: another name, another site's posts, no
// session, a folder above.
func TestTrialDoors(t *testing.T) {
	data := t.TempDir()
	p := start(t, "demo", "--data", data)
	ask := func(method, path, host string, head map[string]string, body string) (int, string) {
		r, err := http.NewRequest(method, p.url+path, strings.NewReader(body))
		require.NoError(t, err)
		if host != "" {
			r.Host = host
		}
		if body != "" {
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		}
		for k, v := range head {
			r.Header.Set(k, v)
		}
		res, err := follows(5 * time.Second).Do(r)
		require.NoError(t, err)
		defer res.Body.Close()
		var b bytes.Buffer
		_, _ = b.ReadFrom(res.Body)
		return res.StatusCode, b.String()
	}
	const post = "name=Stolen&colour=%23102030"
	for name, c := range map[string]struct {
		method, path, host string
		head               map[string]string
		body               string
		want               int
	}{
		"its own page":          {"GET", "/shelf", "", nil, "", http.StatusOK},
		"a rebound name":        {"GET", "/shelf", "evil.example", nil, "", http.StatusMisdirectedRequest},
		"a rebound name's post": {"POST", "/shelf/new", "evil.example", nil, post, http.StatusMisdirectedRequest},
		"another site's post": {"POST", "/shelf/new", "", map[string]string{"Origin": "https://evil.example", "Sec-Fetch-Site": "cross-site"},
			post, http.StatusForbidden},
		"another origin's post": {"POST", "/shelf/new", "", map[string]string{"Origin": "https://evil.example"}, post, http.StatusForbidden},
		"a post of no origin": {"POST", "/shelf/new", "", map[string]string{"Origin": "null", "Sec-Fetch-Site": "cross-site"}, post,
			http.StatusForbidden},
		"a folder above":          {"GET", "/static/x/../../lampfern.db", "", nil, "", http.StatusNotFound},
		"a photo that is a path":  {"GET", "/photos/..%2f..%2flampfern.db/view.jpg", "", nil, "", http.StatusNotFound},
		"a backup that is a path": {"GET", "/care/backups/..%2flampfern.db", "", nil, "", http.StatusNotFound},
	} {
		code, _ := ask(c.method, c.path, c.host, c.head, c.body)
		assert.Equal(t, c.want, code, name)
	}
	_, list := ask("GET", "/shelf/list.csv", "", nil, "")
	assert.NotContains(t, list, "Stolen")

	// Served to others, nothing is to be had without a session.
	set := exec.Command(binary, "passphrase", "--data", data)
	set.Stdin = strings.NewReader("moth lamp river bell\n")
	out, err := set.CombinedOutput()
	require.NoError(t, err, "%s", out)
	_ = p.Process.Kill()
	_, _ = p.Process.Wait()
	q := exec.Command(binary, "serve", "--data", data, "--addr", "0.0.0.0:0", "--no-tls", "--host", "moth.example")
	pipe, err := q.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, q.Start())
	t.Cleanup(func() { _ = q.Process.Kill(); _, _ = q.Process.Wait() })
	first := make([]byte, 400)
	n, err := pipe.Read(first)
	require.NoError(t, err)
	port := regexp.MustCompile(`:(\d+)`).FindStringSubmatch(string(first[:n]))
	require.NotNil(t, port, string(first[:n]))
	p.url = "http://127.0.0.1:" + port[1]
	for _, path := range []string{"/", "/shelf", "/plans/9/wheel", "/shelf/shelf.zip", "/care", "/plans/9/plan.zip", "/photos",
		"/shelf/list.csv"} {
		code, body := ask("GET", path, "moth.example:"+port[1], nil, "")
		assert.Contains(t, []int{http.StatusSeeOther, http.StatusUnauthorized, http.StatusForbidden}, code, path)
		assert.NotContains(t, body, "Plum curtain", path)
	}
	code, _ := ask("POST", "/shelf/new", "moth.example:"+port[1], nil, post)
	assert.Contains(t, []int{http.StatusSeeOther, http.StatusUnauthorized, http.StatusForbidden}, code)
}

// TestTrialBodies sends many bodies half and no further: the program's memory stays bounded, and pages are
// answered as ever.
func TestTrialBodies(t *testing.T) {
	many := trialOf(t, "BODIES")
	data := t.TempDir()
	p := start(t, "demo", "--data", data)
	address := strings.TrimPrefix(p.url, "http://")
	half := bytes.Repeat([]byte("x"), 6<<20)
	var senders sync.WaitGroup
	for i := range many {
		senders.Go(func() {
			c, err := net.Dial("tcp", address)
			if err != nil {
				return
			}
			defer c.Close()
			_ = c.SetDeadline(time.Now().Add(25 * time.Second))
			path := []string{"/shelf/import", "/door", "/plans/9/change", "/care/bring", "/photos"}[i%5]
			_, _ = fmt.Fprintf(c, "POST %s HTTP/1.1\r\nHost: %s\r\nContent-Type: multipart/form-data; boundary=b\r\nContent-Length: %d\r\n\r\n--b\r\nContent-Disposition: form-data; name=\"file\"; filename=\"x\"\r\n\r\n",
				path, address, 12<<20)
			_, _ = c.Write(half)
			_, _ = io.Copy(io.Discard, c) // until it is shut
		})
	}
	var took []time.Duration
	client := follows(20 * time.Second)
	for end := time.Now().Add(25 * time.Second); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		began := time.Now()
		code, _, err := read(client, p.url+[]string{"/", "/shelf", "/plans/9/wheel", "/plans"}[len(took)%4])
		require.NoError(t, err)
		require.Equal(t, http.StatusOK, code)
		took = append(took, time.Since(began))
	}
	senders.Wait()
	slices.Sort(took)
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.Process.Pid))
	require.NoError(t, err)
	kept, err := strconv.Atoi(regexp.MustCompile(`VmHWM:\s+(\d+) kB`).FindStringSubmatch(string(status))[1])
	require.NoError(t, err)
	t.Logf("%d half-sent bodies: at most %d MB; %d pages, half within %d ms, all but one in twenty within %d ms, the slowest %d ms", many, kept>>10,
		len(took), took[len(took)/2].Milliseconds(), took[len(took)*19/20].Milliseconds(), took[len(took)-1].Milliseconds())
	assert.LessOrEqual(t, kept>>10, 400)
	assert.LessOrEqual(t, took[len(took)*19/20], 100*time.Millisecond)
}

// TestTrialGuesses sends many wrong passphrases at once: no more are looked at than of as many one after
// another, and the right one among the rest does not get in.
func TestTrialGuesses(t *testing.T) {
	many := trialOf(t, "GUESSES")
	data := t.TempDir()
	set := exec.Command(binary, "passphrase", "--data", data)
	set.Stdin = strings.NewReader("moth lamp river bell\n")
	out, err := set.CombinedOutput()
	require.NoError(t, err, "%s", out)
	p := startCommand(t, exec.Command(binary, "serve", "--data", data, "--addr", "0.0.0.0:0", "--no-tls"))
	at := "http://127.0.0.1:" + p.url[strings.LastIndex(p.url, ":")+1:] + "/door"
	var lock sync.Mutex
	codes := map[int]int{}
	var guessers sync.WaitGroup
	began := time.Now()
	for i := range many {
		guessers.Go(func() {
			guess := fmt.Sprint("a wrong guess ", i)
			if i == many-1 {
				guess = "moth lamp river bell"
			}
			res, err := follows(30*time.Second).PostForm(at, url.Values{"door": {"enter"}, "passphrase": {guess}})
			if err != nil {
				return
			}
			res.Body.Close()
			lock.Lock()
			codes[res.StatusCode]++
			lock.Unlock()
		})
	}
	guessers.Wait()
	t.Logf("%d guesses at once in %d ms: %d were looked at, %d had to wait", many, time.Since(began).Milliseconds(),
		codes[http.StatusForbidden]+codes[http.StatusSeeOther], codes[http.StatusTooManyRequests])
	assert.LessOrEqual(t, codes[http.StatusForbidden]+codes[http.StatusSeeOther], 4)
	assert.Equal(t, many, codes[http.StatusForbidden]+codes[http.StatusSeeOther]+codes[http.StatusTooManyRequests])
}
