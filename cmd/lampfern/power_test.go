package main

import (
	"bufio"
	"bytes"
	"encoding/hex"
	"fmt"
	"image"
	"image/png"
	"math/rand/v2"
	"mime/multipart"
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

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/store"
)

// disk is what a power cut would leave of a folder: what was synced, and nothing else. A file's bytes are
// safe once it was synced, its name once its folder was.
type disk struct {
	names, safeNames map[string]*inode // by path
	at               map[string]int64  // of an open file, by its number in the process
}

type inode struct {
	data, safe []byte
}

// strace prints a call as name(arguments) = result, with the path of each open file beside its number.
var (
	straceLine = regexp.MustCompile(`^(\d+) +(.*)$`)
	resumed    = regexp.MustCompile(`^<\.\.\. \w+ resumed>(.*)$`)
	straceCall = regexp.MustCompile(`^(\w+)\((.*)\) += (-?\d+)(<[^>]*>)?`)
	openFile   = regexp.MustCompile(`^(\d+)<([^>]*)>`)
	quoted     = regexp.MustCompile(`"((?:\\x[0-9a-f]{2})*)"`)
)

// unhex is a text that strace printed in hex.
func unhex(text string) string {
	b, _ := hex.DecodeString(strings.ReplaceAll(text, `\x`, ""))
	return string(b)
}

// do takes one call. It reports whether something is safe now that was not.
func (d *disk) do(call, args, result, within string) (synced bool) {
	file := func(path string) *inode {
		if d.names[path] == nil {
			d.names[path] = &inode{}
		}
		return d.names[path]
	}
	write := func(f *inode, at int64, data string) {
		if n := int(at) + len(data); n > len(f.data) {
			f.data = append(f.data, make([]byte, n-len(f.data))...)
		}
		f.data = append(append(append([]byte{}, f.data[:at]...), data...), f.data[int(at)+len(data):]...)
	}
	texts := quoted.FindAllStringSubmatch(args, -1)
	fd, path := "", ""
	if m := openFile.FindStringSubmatch(args); m != nil {
		fd, path = m[1], unhex(m[2])
	}
	switch call {
	case "open", "openat":
		name := unhex(texts[0][1])
		if !strings.HasPrefix(name, within) {
			return false
		}
		d.at[result] = 0
		if info := strings.Contains(args, "O_CREAT"); info || d.names[name] != nil {
			f := file(name)
			if strings.Contains(args, "O_TRUNC") {
				f.data = nil
			}
		}
	case "write", "pwrite64":
		if !strings.HasPrefix(path, within) || len(texts) == 0 {
			return false
		}
		at := d.at[fd]
		data := unhex(texts[0][1])
		if call == "pwrite64" {
			all := strings.Split(args, ", ")
			at, _ = strconv.ParseInt(all[len(all)-1], 10, 64)
		} else {
			d.at[fd] += int64(len(data))
		}
		write(file(path), at, data)
	case "ftruncate":
		if strings.HasPrefix(path, within) {
			f := file(path)
			n, _ := strconv.Atoi(args[strings.LastIndex(args, " ")+1:])
			f.data = append(append([]byte{}, f.data[:min(n, len(f.data))]...), make([]byte, max(0, n-len(f.data)))...)
		}
	case "rename", "renameat", "renameat2":
		from, to := unhex(texts[0][1]), unhex(texts[1][1])
		if strings.HasPrefix(from, within) && d.names[from] != nil {
			d.names[to] = d.names[from]
			delete(d.names, from)
		}
	case "unlink", "unlinkat":
		delete(d.names, unhex(texts[0][1]))
	case "fsync", "fdatasync":
		if !strings.HasPrefix(path, within) {
			return false
		}
		if f := d.names[path]; f != nil {
			f.safe = append([]byte{}, f.data...)
			return true
		}
		for name := range d.safeNames { // a folder: its names are safe as they are now
			if filepath.Dir(name) == path && d.names[name] != d.safeNames[name] {
				delete(d.safeNames, name)
			}
		}
		for name, f := range d.names {
			if filepath.Dir(name) == path {
				d.safeNames[name] = f
			}
		}
		return true
	}
	return false
}

// leave writes what is safe into a folder.
func (d *disk) leave(t *testing.T, within, to string) {
	for name, f := range d.safeNames {
		rest, err := filepath.Rel(within, name)
		require.NoError(t, err)
		if strings.HasSuffix(name, "-shm") { // which is made anew from the log
			continue
		}
		require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(to, rest)), 0o700))
		require.NoError(t, os.WriteFile(filepath.Join(to, rest), f.safe, 0o600))
	}
}

// TestTrialPowerCut records what the program writes and syncs while materials, plans and photos are kept, and
// looks at what a power cut would leave after each sync: the database is whole, and holds all that was
// answered before.
func TestTrialPowerCut(t *testing.T) {
	cuts := trialOf(t, "CUTS")
	if _, err := exec.LookPath("strace"); err != nil {
		t.Skip("there is no strace here to record writes and syncs with")
	}
	data, trace := t.TempDir(), filepath.Join(t.TempDir(), "trace")
	p := startCommand(t, exec.Command("strace", "-f", "-y", "-xx", "-s", "2000000", "-o", trace, "-e",
		"trace=open,openat,write,pwrite64,ftruncate,rename,renameat,renameat2,unlink,unlinkat,fsync,fdatasync", binary, "serve", "--data", data, "--addr", "127.0.0.1:0"))
	client, names := follows(20*time.Second), []string{}
	var err error
	for i := range cuts {
		name := fmt.Sprintf("cut %d.", i)
		at, fields := "/shelf/new", url.Values{"name": {name}, "colour": {fmt.Sprintf("#%06x", rand.IntN(1<<24))}, "remark": {strings.Repeat("r", rand.IntN(400))}}
		if i%5 == 4 {
			at, fields = "/plans", url.Values{"name": {name}, "craft": {"quilt"}}
		}
		var res *http.Response
		if i%7 == 6 { // a photo, whose file is named by what is in it
			var picture, form bytes.Buffer
			of := image.NewGray(image.Rect(0, 0, 200, 200))
			of.Pix[0], of.Pix[1] = byte(i), byte(i>>8)
			require.NoError(t, png.Encode(&picture, of))
			w := multipart.NewWriter(&form)
			part, e := w.CreateFormFile("file", name+"png")
			require.NoError(t, e)
			_, _ = part.Write(picture.Bytes())
			require.NoError(t, w.Close())
			res, err = client.Post(p.url+"/photos", w.FormDataContentType(), &form)
		} else {
			res, err = client.PostForm(p.url+at, fields)
		}
		require.NoError(t, err)
		res.Body.Close()
		require.Equal(t, http.StatusSeeOther, res.StatusCode)
		names = append(names, name)
	}
	children, err := os.ReadFile(fmt.Sprintf("/proc/%d/task/%d/children", p.Process.Pid, p.Process.Pid))
	require.NoError(t, err)
	program, err := strconv.Atoi(strings.TrimSpace(string(children)))
	require.NoError(t, err)
	require.NoError(t, syscall.Kill(program, syscall.SIGINT))
	<-p.rest
	_ = p.Wait()

	f, err := os.Open(trace)
	require.NoError(t, err)
	defer f.Close()
	in := bufio.NewScanner(f)
	in.Buffer(nil, 64<<20)
	d := &disk{map[string]*inode{}, map[string]*inode{}, map[string]int64{}}
	begun, answered, looked, syncs := map[string]string{}, 0, 0, 0
	for in.Scan() {
		m := straceLine.FindStringSubmatch(in.Text())
		if m == nil {
			continue
		}
		line := m[2]
		if head, cut := strings.CutSuffix(line, " <unfinished ...>"); cut {
			begun[m[1]] = head
			continue
		}
		if r := resumed.FindStringSubmatch(line); r != nil {
			line = begun[m[1]] + strings.TrimLeft(r[1], " ")
			if !strings.Contains(line, ")") {
				line = begun[m[1]] + r[1]
			}
		}
		c := straceCall.FindStringSubmatch(line)
		if c == nil || strings.HasPrefix(c[3], "-") {
			continue
		}
		if c[1] == "write" && strings.Contains(c[2], hexOf("HTTP/1.1 303")) {
			answered++
		}
		if !d.do(c[1], c[2], c[3], data) {
			continue
		}
		if syncs++; d.safeNames[filepath.Join(data, store.FileName)] == nil {
			continue // the workroom is only being made
		}
		looked++
		left := filepath.Join(t.TempDir(), "left")
		d.leave(t, data, left)
		s, err := store.Open(left)
		require.NoError(t, err, "after sync %d", syncs)
		r, err := s.Check(t.Context())
		require.NoError(t, err)
		assert.True(t, r.Good(), "after sync %d: %v", syncs, r.Wrong)
		assert.GreaterOrEqual(t, r.Materials+r.Plans+r.Photos, answered, "after sync %d: what was answered is there", syncs)
		require.NoError(t, s.Close())
		require.NoError(t, os.RemoveAll(left))
	}
	require.NoError(t, in.Err())
	assert.GreaterOrEqual(t, looked, cuts)
	assert.Equal(t, len(names), answered)
	t.Logf("%d writes answered; %d power cuts, one after each sync: 0 databases damaged, 0 of what was answered lost", answered, looked)
}

func hexOf(text string) string {
	var b strings.Builder
	for _, c := range []byte(text) {
		fmt.Fprintf(&b, `\x%02x`, c)
	}
	return b.String()
}
