package stages

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestTheShoppingListInEveryForm(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	code, body := m.get("/plans/9/list.csv")
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, body, "Kiln & Rowan,Plum curtain,fabric,KR-106,1.96 m,2.0 m,1.02,20.38,")
	_, body = m.get("/plans/9/list.txt")
	assert.Contains(t, body, "[ ] Plum curtain: 2.0 m")
	assert.Contains(t, body, "[ ] look for ")
	code, body = m.get("/plans/9/list.pdf?paper=a4")
	assert.Equal(t, http.StatusOK, code)
	assert.True(t, strings.HasPrefix(body, "%PDF-"))
	code, body = m.get("/plans/9/list.pdf?paper=bark")
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, plain(body), "choose a4 or letter")
	code, body = m.get("/plans/6/list.pdf?paper=a4")
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, plain(body), "There is nothing to buy")
}
