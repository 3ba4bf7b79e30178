package main

import (
	"bufio"
	"bytes"
	"crypto/tls"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"mime/multipart"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"lampfern/exchange"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/door"
)

var binary string

func TestMain(m *testing.M) {
	dir, err := os.MkdirTemp("", "lampfern-bin-*")
	if err != nil {
		panic(err)
	}
	binary = filepath.Join(dir, "lampfern")
	build := []string{"build", "-o", binary}
	if os.Getenv("LAMPFERN_RACE") != "" { // a trial under the race detector
		build = append(build, "-race")
	}
	if out, err := exec.Command("go", append(build, ".")...).CombinedOutput(); err != nil {
		fmt.Fprintf(os.Stderr, "the program does not build: %s\n", out)
		os.Exit(1)
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

// program is the built program while it runs.
type program struct {
	*exec.Cmd
	url   string
	rest  chan string // what it prints after its address
	began time.Duration
}

// start runs the program and waits until it says where it is.
func start(t testing.TB, args ...string) *program {
	t.Helper()
	return startCommand(t, exec.Command(binary, append(args, "--addr", "127.0.0.1:0")...))
}

// startCommand runs a command that becomes the program.
func startCommand(t testing.TB, c *exec.Cmd) *program {
	t.Helper()
	p := &program{Cmd: c, rest: make(chan string, 1)}
	out, err := p.StdoutPipe()
	require.NoError(t, err)
	begin := time.Now()
	require.NoError(t, p.Start())
	t.Cleanup(func() { _ = p.Process.Kill(); _, _ = p.Process.Wait() })
	r := bufio.NewReader(out)
	line, err := r.ReadString('\n')
	require.NoError(t, err)
	p.url = regexp.MustCompile(`http://\S+`).FindString(line)
	require.NotEmpty(t, p.url, line)
	res, err := http.Get(p.url + "/")
	require.NoError(t, err)
	res.Body.Close()
	p.began = time.Since(begin)
	go func() {
		var b bytes.Buffer
		_, _ = b.ReadFrom(r)
		p.rest <- b.String()
	}()
	return p
}

func run(t *testing.T, args ...string) (string, error) {
	t.Helper()
	out, err := exec.Command(binary, args...).CombinedOutput()
	return string(out), err
}

func TestDemoStartsAndStopsCleanly(t *testing.T) {
	p := start(t, "demo")
	res, err := http.Get(p.url + "/shelf")
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, 200, res.StatusCode)
	require.NoError(t, p.Process.Signal(os.Interrupt))
	said := <-p.rest
	require.NoError(t, p.Wait(), "it ends without complaint")
	assert.Contains(t, said, "Closed")
	folder := regexp.MustCompile(`Data folder: (\S+)`).FindStringSubmatch(said)[1]
	_, err = os.Stat(folder)
	assert.ErrorIs(t, err, os.ErrNotExist, "the throw-away folder is gone")
}

// A file that comes in by drips does not hold the program open.
func TestAStuckFileIsCutOffAtClosing(t *testing.T) {
	p := start(t, "serve", "--data", t.TempDir())
	at := strings.TrimPrefix(p.url, "http://")
	conn, err := net.Dial("tcp", at)
	require.NoError(t, err)
	defer conn.Close()
	_, err = fmt.Fprintf(conn,
		"POST /shelf/import HTTP/1.1\r\nHost: %s\r\nOrigin: %s\r\nContent-Type: multipart/form-data; boundary=x\r\nContent-Length: 1000000\r\n\r\n--x\r\n", at, p.url)
	require.NoError(t, err)
	time.Sleep(100 * time.Millisecond)
	begin := time.Now()
	require.NoError(t, p.Process.Signal(os.Interrupt))
	said := <-p.rest
	require.NoError(t, p.Wait(), "it ends without complaint")
	assert.Contains(t, said, "that was still being sent is not saved: send it again. Everything else is saved.")
	assert.Less(t, time.Since(begin), 2*stopWithin)
}

func TestImportAndVersion(t *testing.T) {
	data := filepath.Join(t.TempDir(), "mine")
	list := filepath.Join(t.TempDir(), "materials.csv")
	require.NoError(t, os.WriteFile(list, []byte("name,colour\nPlum,#4b2346\nSedge,#12\nGorse,#f1de4a\n"), 0o644))
	out, err := run(t, "import", list, "--data", data)
	assert.Error(t, err)
	assert.Contains(t, out, "line 3, Sedge")
	assert.Contains(t, out, "nothing was imported: 1 of 3 lines are bad")
	out, err = run(t, "import", list, "--data", data, "--leave-out-bad")
	require.NoError(t, err, out)
	assert.Contains(t, out, "2 materials are now on the shelf. 1 line was left out")
	out, err = run(t, "import", list, "--data", data, "--leave-out-bad")
	assert.Error(t, err)
	assert.Contains(t, out, "No line of materials.csv can be imported")
	out, err = run(t, "import", filepath.Join("..", "..", "demo", "plans", "9-curtain.json"), "--data", data)
	require.NoError(t, err, out)
	assert.Contains(t, out, "Stage curtain is now plan 1")
	for _, bad := range [][]string{{"import", "nowhere.csv"}, {"import", "nowhere.json"}} {
		out, err = run(t, append(bad, "--data", data)...)
		assert.Error(t, err)
		assert.Contains(t, out, "check its name")
	}
	big := filepath.Join(t.TempDir(), "big.csv")
	require.NoError(t, os.WriteFile(big, make([]byte, 50<<20), 0o644))
	out, _ = run(t, "import", big, "--data", data)
	assert.Contains(t, out, "larger than 10 MB")
	out, err = run(t, "version")
	require.NoError(t, err)
	assert.Equal(t, "Lamp Fern "+version+"\n", out)

	p := start(t, "serve", "--data", data)
	res, err := http.Get(p.url + "/plans/1/plan.zip")
	require.NoError(t, err)
	defer res.Body.Close()
	file, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	plan, err := exchange.ReadPlanFile(t.Context(), file)
	require.NoError(t, err)
	assert.Len(t, plan.Materials, 5)
	zip := filepath.Join(t.TempDir(), "plan.zip")
	require.NoError(t, os.WriteFile(zip, file, 0o644))
	out, err = run(t, "import", zip, "--data", t.TempDir())
	require.NoError(t, err)
	assert.Contains(t, out, "is now plan 1")
}

func TestTroubleAtStart(t *testing.T) {
	file := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o644))
	out, err := run(t, "serve", "--data", filepath.Join(file, "x"))
	assert.Error(t, err)
	assert.Contains(t, out, "Choose another with --data")
	p := start(t, "serve", "--data", t.TempDir())
	out, err = run(t, "serve", "--data", t.TempDir(), "--addr", strings.TrimPrefix(p.url, "http://"))
	assert.Error(t, err)
	assert.Contains(t, out, "choose another with --addr")
}

// TestKilledInTheMiddleLosesNothingAcknowledged kills the program during a
// stream of saves, twice, and looks for every save it had answered.
func TestKilledInTheMiddleLosesNothingAcknowledged(t *testing.T) {
	data := t.TempDir()
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	acknowledged := []string{}
	for round := range 2 {
		p := start(t, "serve", "--data", data)
		time.AfterFunc(400*time.Millisecond, func() { _ = p.Process.Signal(syscall.SIGKILL) })
		for n := 0; ; n++ {
			name := fmt.Sprintf("Cloth %d-%d", round, n)
			res, err := client.PostForm(p.url+"/shelf/new", url.Values{"name": {name}, "colour": {"#4b2346"}})
			if err != nil {
				break // killed
			}
			res.Body.Close()
			require.Equal(t, http.StatusSeeOther, res.StatusCode)
			acknowledged = append(acknowledged, name)
		}
	}
	require.Greater(t, len(acknowledged), 10, "there was a stream to kill")
	p := start(t, "serve", "--data", data)
	res, err := http.Get(p.url + "/shelf/list.csv")
	require.NoError(t, err)
	defer res.Body.Close()
	var b bytes.Buffer
	_, err = b.ReadFrom(res.Body)
	require.NoError(t, err)
	for _, name := range acknowledged {
		assert.Contains(t, b.String(), name+",")
	}
	assert.LessOrEqual(t, strings.Count(b.String(), "Cloth "), len(acknowledged)+2,
		"at most the save in hand at each kill is there unanswered")
}

// BenchmarkStart times the built program from its start to the first page with
// the demo data, and reads its memory then.
func BenchmarkStart(b *testing.B) {
	var worst time.Duration
	memory := 0.0
	for b.Loop() {
		p := start(b, "demo")
		worst = max(worst, p.began)
		for _, path := range []string{"/shelf", "/plans/9/wheel", "/plans/9/proportion", "/plans/9/cards.pdf"} {
			res, err := http.Get(p.url + path)
			require.NoError(b, err)
			res.Body.Close()
		}
		memory = max(memory, p.memory(b, "VmRSS"))
		_ = p.Process.Signal(os.Interrupt)
		<-p.rest
		_ = p.Wait()
	}
	b.ReportMetric(float64(worst.Milliseconds()), "worst-ms")
	b.ReportMetric(float64(worst)/float64(500*time.Millisecond), "of-500ms")
	b.ReportMetric(memory, "MB")
	b.ReportMetric(memory/100, "of-100MB")
}

// memory reads what the program holds (VmRSS) or has held at most (VmHWM), in
// MB.
func (p *program) memory(b *testing.B, of string) float64 {
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.Process.Pid))
	require.NoError(b, err)
	kb, err := strconv.ParseFloat(regexp.MustCompile(of + `:\s+(\d+)`).FindStringSubmatch(string(status))[1], 64)
	require.NoError(b, err)
	return kb / 1024
}

// BenchmarkLargePhoto brings a photo of nearly 40 megapixels into the built
// program, twice in a row, and reads the most memory it has held.
func BenchmarkLargePhoto(b *testing.B) {
	img := image.NewYCbCr(image.Rect(0, 0, 7296, 5472), image.YCbCrSubsampleRatio420)
	for i := range img.Y {
		img.Y[i] = uint8(i>>9 + i*7919%31)
	}
	memory := 0.0
	for b.Loop() {
		p := start(b, "demo")
		for _, quality := range []int{85, 80} {
			var body bytes.Buffer
			form := multipart.NewWriter(&body)
			file, err := form.CreateFormFile("file", "large.jpg")
			require.NoError(b, err)
			require.NoError(b, jpeg.Encode(file, img, &jpeg.Options{Quality: quality}))
			require.NoError(b, form.Close())
			res, err := http.Post(p.url+"/photos", form.FormDataContentType(), &body)
			require.NoError(b, err)
			res.Body.Close()
			require.Equal(b, http.StatusOK, res.StatusCode)
		}
		memory = max(memory, p.memory(b, "VmHWM"))
		_ = p.Process.Signal(os.Interrupt)
		<-p.rest
		_ = p.Wait()
	}
	b.ReportMetric(memory, "MB")
	b.ReportMetric(memory/200, "of-200MB")
}

// Where others reach the program it wants a passphrase, and shows its certificate.
func TestOthersAreServedOnlyWithAPassphrase(t *testing.T) {
	data := filepath.Join(t.TempDir(), "mine")
	out, err := run(t, "serve", "--data", data, "--addr", "0.0.0.0:0")
	assert.Error(t, err)
	assert.Contains(t, out, "no passphrase is set: set one with “lampfern passphrase --data "+data)
	set := exec.Command(binary, "passphrase", "--data", data)
	set.Stdin = strings.NewReader("short\n")
	said, err := set.CombinedOutput()
	assert.Error(t, err)
	assert.Contains(t, string(said), "at least 10 characters")
	set = exec.Command(binary, "passphrase", "--data", data)
	set.Stdin = strings.NewReader("moth lamp river bell\n")
	said, err = set.CombinedOutput()
	require.NoError(t, err, string(said))

	p := exec.Command(binary, "serve", "--data", data, "--addr", "0.0.0.0:0", "--host", "moth.example")
	pipe, err := p.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, p.Start())
	t.Cleanup(func() { _ = p.Process.Kill(); _, _ = p.Process.Wait() })
	r := bufio.NewReader(pipe)
	lines := ""
	for range 5 {
		line, err := r.ReadString('\n')
		require.NoError(t, err)
		lines += line
	}
	port := regexp.MustCompile(`https://moth\.example:(\d+)`).FindStringSubmatch(lines)
	require.NotNil(t, port, lines)
	var seen string
	client := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{InsecureSkipVerify: true,
		VerifyConnection: func(c tls.ConnectionState) error {
			seen = door.Fingerprint(tls.Certificate{Certificate: [][]byte{c.PeerCertificates[0].Raw}})
			return c.PeerCertificates[0].VerifyHostname("moth.example")
		}}}}
	res, err := client.Get("https://127.0.0.1:" + port[1] + "/shelf")
	require.NoError(t, err)
	body, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	res.Body.Close()
	assert.Contains(t, string(body), "Passphrase of this workroom")
	assert.Contains(t, lines, seen, "the fingerprint that is printed is the one that is shown")
	assert.Contains(t, string(body), seen)
}

// A workroom is backed up while it is served, comes back elsewhere, and is never shared by two
// programs.
func TestBackedUpWhileServedAndRestored(t *testing.T) {
	dir := t.TempDir()
	p := start(t, "demo", "--data", dir)
	second := exec.Command(binary, "serve", "--data", dir, "--addr", "127.0.0.1:0")
	out, err := second.CombinedOutput()
	assert.Error(t, err)
	assert.Contains(t, string(out), "another Lamp Fern is using "+dir)

	out, err = exec.Command(binary, "backup", "--data", dir).CombinedOutput()
	require.NoError(t, err, "%s", out)
	assert.Contains(t, string(out), "is made and was read back in full: 164 materials, 9 plans")
	name := regexp.MustCompile(`lampfern-\S+\.zip`).FindString(string(out))
	require.NoError(t, p.Process.Kill())
	_, _ = p.Process.Wait()

	other := filepath.Join(t.TempDir(), "another machine")
	out, err = exec.Command(binary, "restore", filepath.Join(dir, "backups", name), "--data", other).CombinedOutput()
	require.NoError(t, err, "%s", out)
	assert.Contains(t, string(out), "is restored: 164 materials, 9 plans")
	out, err = exec.Command(binary, "restore", filepath.Join(dir, "backups", name), "--data", other).CombinedOutput()
	assert.Error(t, err)
	assert.Contains(t, string(out), "holds a workroom already")
	out, err = exec.Command(binary, "restore", "--check", filepath.Join(dir, "backups", name)).CombinedOutput()
	require.NoError(t, err, "%s", out)
	assert.Regexp(t, `can be restored: 164 materials, 9 plans.*\n(?s:.*)All of its [3-9]\d\d pages open\.`, string(out))
	place := t.TempDir()
	seal := exec.Command(binary, "backup", "--data", other, "--backup-to", place)
	seal.Env = append(os.Environ(), "LAMPFERN_BACKUP_PASSPHRASE=moth lamp river bell")
	out, err = seal.CombinedOutput()
	require.NoError(t, err, "%s", out)
	sealed, err := filepath.Glob(filepath.Join(place, "lampfern-*.zip.age"))
	require.NoError(t, err)
	require.Len(t, sealed, 1)
	again := exec.Command(binary, "restore", sealed[0], "--data", filepath.Join(t.TempDir(), "third"))
	again.Stdin = strings.NewReader("moth lamp river bell\n")
	out, err = again.CombinedOutput()
	require.NoError(t, err, "%s", out)
	assert.Contains(t, string(out), "is restored: 164 materials, 9 plans")
	out, err = exec.Command(binary, "backup", "--data", other, "--backup-to", filepath.Join(place, "gone")).CombinedOutput()
	assert.Error(t, err)
	assert.Contains(t, string(out), "could not be copied to")
	q := start(t, "serve", "--data", other)
	res, err := http.Get(q.url + "/plans/9/proportion")
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, http.StatusOK, res.StatusCode)
}

// Where files may not grow further a save is refused as on a full disk, the program goes on, what was kept
// is read, and who watches it is told that it cannot write.
func TestAFileLimitIsAFullDisk(t *testing.T) {
	data := t.TempDir()
	p := startCommand(t, exec.Command("bash", "-c", `ulimit -f 600; exec "$0" "$@"`, binary, "serve", "--data", data, "--addr", "127.0.0.1:0"))
	client := follows(10 * time.Second)
	put := func(i int) (int, string) {
		res, err := client.PostForm(p.url+"/shelf/new", url.Values{"name": {fmt.Sprint("cloth ", i)}, "colour": {"#445566"},
			"remark": {strings.Repeat("long ", 100)}})
		require.NoError(t, err)
		defer res.Body.Close()
		body, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return res.StatusCode, string(body)
	}
	code, body, kept := 0, "", 0
	for ; kept < 500; kept++ {
		if code, body = put(kept); code != http.StatusSeeOther {
			break
		}
	}
	assert.Greater(t, kept, 3)
	assert.Equal(t, http.StatusInternalServerError, code)
	assert.Contains(t, body, "The disk is full")
	code, body, err := read(client, p.url+"/shelf")
	require.NoError(t, err)
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, body, fmt.Sprintf("%d materials", kept))
	code, _, err = read(client, p.url+"/healthz")
	require.NoError(t, err)
	assert.Equal(t, http.StatusOK, code, "it is alive")
	code, body, err = read(client, p.url+"/healthz/ready")
	require.NoError(t, err)
	assert.Equal(t, http.StatusServiceUnavailable, code, body)
}
