package store

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is older than ninety days goes, and one who guesses from everywhere does not fill the disk.
func TestVisitsAreBounded(t *testing.T) {
	s, now := opened(t), time.Now()
	put := func(at time.Time, place, what string) {
		t.Helper()
		require.NoError(t, s.Write(t.Context(), func(tx Tx) error { return tx.PutVisit(at, place, what) }))
	}
	put(now.Add(-91*24*time.Hour), "old", VisitEntered)
	put(now.Add(-89*24*time.Hour), "kept", VisitEntered)
	put(now.Add(-2*time.Hour), "c", VisitFailed)
	put(now, "c", VisitFailed)
	put(now, "c", VisitFailed)
	all, err := s.Read(t.Context()).Visits()
	require.NoError(t, err)
	require.Len(t, all, 3, "two hours apart they are two, at once they are one")
	assert.Equal(t, []any{"c", 2, "kept"}, []any{all[0].Place, all[0].Times, all[2].Place})
	require.NoError(t, s.writer.Exec(`WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 6000)
		INSERT INTO visits (at, place, what, times) SELECT ?, i, 'failed', 1 FROM n`, now.UTC()).Error)
	put(now, "newest", VisitFailed)
	all, err = s.Read(t.Context()).Visits()
	require.NoError(t, err)
	assert.Len(t, all, mostVisits+1)
	assert.Equal(t, "newest", all[0].Place)
}
