package exchange

import (
	"context"
	"io"
	"net"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/standin"
)

func TestALetterReachesTheMailbox(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	box := &standin.Mailbox{}
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	go func() { _ = box.Serve(ctx, l) }()
	s := MailServer{Address: l.Addr().String(), From: "maker@moth.example"}
	page := strings.Repeat("<p>Stage curtain, sheet 1 – “plum”</p>\n", 3000)
	require.NoError(t, s.Send(ctx, Letter{To: "A Client <client@town.example>", Subject: "Stage\r\ncurtain, sheet 1", Text: "Grüße\n",
		FileName: "sheet 1.html", File: []byte(page)}))
	all := box.Letters()
	require.Len(t, all, 1)
	assert.Equal(t, "client@town.example", all[0].To)
	assert.Equal(t, "Stage curtain, sheet 1", all[0].Subject, "a subject is one line")
	assert.Contains(t, all[0].Text, "Grüße")
	require.Len(t, all[0].Files, 1)
	assert.Equal(t, page, string(all[0].Files[0].Data))

	web := httptest.NewServer(box.Page())
	defer web.Close()
	get := func(path string) string {
		r, err := web.Client().Get(web.URL + path)
		require.NoError(t, err)
		defer r.Body.Close()
		data, err := io.ReadAll(r.Body)
		require.NoError(t, err)
		return r.Status + string(data)
	}
	assert.Contains(t, get("/"), "To client@town.example")
	assert.Contains(t, get("/0/0"), "Stage curtain, sheet 1")
	assert.Contains(t, get("/0/9"), "404")
	for to, want := range map[string]string{"": "is not a mail address", "client": "is not a mail address", "a@b": "is not a mail address",
		"a@town.example\r\nBcc: b@town.example": "is not a mail address",
		"nobody@town.example":                   "would not accept the message"} {
		assert.ErrorContains(t, s.Send(ctx, Letter{To: to, Subject: "x", Text: "y"}), want, to)
	}
	assert.Len(t, box.Letters(), 1, "nothing else was sent")
}

func TestMailServersInTrouble(t *testing.T) {
	letter := Letter{To: "client@town.example", Subject: "x", Text: "y"}
	assert.ErrorContains(t, MailServer{}.Send(t.Context(), letter), "no mail server is set up")
	assert.ErrorContains(t, MailServer{Address: "127.0.0.1", From: "a@b.example"}.Send(t.Context(), letter), "is not an address")
	assert.ErrorContains(t, MailServer{Address: "127.0.0.1:1", From: "nobody"}.Send(t.Context(), letter), "--mail-from")
	dead, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	address := dead.Addr().String()
	dead.Close()
	assert.ErrorContains(t, MailServer{Address: address, From: "a@b.example"}.Send(t.Context(), letter), "did not answer")
	slow, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer slow.Close()
	ctx, stop := context.WithTimeout(t.Context(), 300*time.Millisecond)
	defer stop()
	assert.ErrorContains(t, MailServer{Address: slow.Addr().String(), From: "a@b.example"}.Send(ctx, letter), "took too long")
}
