package plans

import (
	"errors"
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"

	"lampfern/core/craft"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/web"
)

type plansBody struct {
	Kept    []plan.Summary
	Away    []plan.Summary
	Crafts  []string
	Name    string
	Problem string
}

func (s pages) renderPlans(c *gin.Context, status int, name, problem string) {
	all, err := s.Desk.Plans(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	p := s.Page(c, "plans", "Plans")
	p.Path = "/plans"
	b := plansBody{Crafts: craft.Names(), Name: name, Problem: problem}
	for _, pl := range all {
		if pl.PutAway {
			b.Away = append(b.Away, pl)
		} else {
			b.Kept = append(b.Kept, pl)
		}
	}
	p.Sub = words.Plural(len(b.Kept), "plan", "plans") + ", most recent first"
	p.Body = b
	s.Render(c, status, p)
}

func (s pages) plans(c *gin.Context) { s.renderPlans(c, http.StatusOK, "", "") }

func (s pages) newPlan(c *gin.Context) {
	id, err := s.Desk.NewPlan(c.Request.Context(), c.PostForm("name"), c.PostForm("craft"))
	var refused words.Refusal
	if errors.As(err, &refused) {
		s.renderPlans(c, http.StatusUnprocessableEntity, c.PostForm("name"), string(refused))
		return
	}
	if s.Trouble(c, err, "") {
		return
	}
	web.GoTo(c, fmt.Sprintf("/plans/%d/gather", id), "New plan. Add cards, or choose a lead colour.")
}

func (s pages) importPlan(c *gin.Context) {
	_, data, err := web.Uploaded(c)
	if err != nil {
		s.renderPlans(c, http.StatusUnprocessableEntity, "", fmt.Sprintf("Choose a plan file first, smaller than %d MB.",
			plan.MaxFileBytes>>20))
		return
	}
	p, missing, err := s.Desk.Import(c.Request.Context(), data)
	var refused words.Refusal
	if errors.As(err, &refused) {
		s.renderPlans(c, http.StatusUnprocessableEntity, "", string(refused))
		return
	}
	if s.Trouble(c, err, "") {
		return
	}
	said := p.Plan.Name + " is imported with its materials."
	if len(missing) > 0 {
		said += " Missing from the file and from this computer: " + words.All(missing) + "."
	}
	web.GoTo(c, fmt.Sprintf("/plans/%d/wheel", p.ID), said)
}

func (s pages) planFile(c *gin.Context) {
	export := s.Desk.Export
	if c.Query("sheets") != "" {
		export = s.Desk.ExportWithSheets
	}
	name, file, err := export(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	web.Download(c, name+".zip", "application/zip", file)
}
