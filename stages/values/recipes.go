package values

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/value"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/store"
)

// maxRecipeName is how long a recipe's name may be, in characters.
const maxRecipeName = 40

// RecipeChoice is a ramp recipe that can be taken. Own ones are the maker's.
type RecipeChoice struct {
	value.Recipe
	Own bool
}

const recipeScope = "recipes"

// Recipes lists the maker's own ramp recipes, then those shipped whose name the
// maker has not taken.
func Recipes(ctx context.Context, s *plan.Desk) ([]RecipeChoice, error) {
	rows, err := s.Store.Read(ctx).Recipes()
	if err != nil {
		return nil, fmt.Errorf("reading the recipes: %w", err)
	}
	var out []RecipeChoice
	for _, r := range rows {
		out = append(out, RecipeChoice{r.Recipe, true})
	}
	for _, r := range value.Recipes() {
		if recipeNamed(rows, r.Name) < 0 {
			out = append(out, RecipeChoice{r, false})
		}
	}
	return out, nil
}

// Recipe returns the recipe of a name, the first of all when the name is empty.
func Recipe(ctx context.Context, s *plan.Desk, name string) (value.Recipe, error) {
	all, err := Recipes(ctx, s)
	if err != nil {
		return value.Recipe{}, err
	}
	for _, r := range all {
		if strings.EqualFold(r.Name, name) || name == "" && !r.Own {
			return r.Recipe, nil
		}
	}
	return value.Recipe{}, words.Refuse("There is no recipe called %q. Choose one from the list.", name)
}

func recipeNamed(all []store.Recipe, name string) int {
	return slices.IndexFunc(all, func(r store.Recipe) bool { return strings.EqualFold(r.Recipe.Name, name) })
}

// SaveRecipe keeps a recipe as one of the maker's own, in place of an own one
// of the same name.
func SaveRecipe(ctx context.Context, s *plan.Desk, name string, r value.Recipe) error {
	r.Name = strings.Join(strings.Fields(name), " ")
	if r.Name == "" || utf8.RuneCountInString(r.Name) > maxRecipeName {
		return words.Refuse("Give the recipe a name of at most %d characters.", maxRecipeName)
	}
	if err := r.Check(); err != nil {
		return words.Refuse("Not saved: %s.", err)
	}
	return changeRecipes(ctx, s, "save the recipe "+r.Name, func(all []store.Recipe) ([]store.Recipe, error) {
		if at := recipeNamed(all, r.Name); at >= 0 {
			all[at].Recipe = r
			return all, nil
		}
		if len(all) >= maxOwnRecipes {
			return nil, words.Refuse("You have %d recipes of your own already. Delete one first.", maxOwnRecipes)
		}
		return append(all, store.Recipe{Recipe: r}), nil
	})
}

// DropRecipe forgets a recipe of the maker's own. Ramps keep what they took.
func DropRecipe(ctx context.Context, s *plan.Desk, name string) error {
	return changeRecipes(ctx, s, "delete the recipe "+name, func(all []store.Recipe) ([]store.Recipe, error) {
		at := recipeNamed(all, name)
		if at < 0 {
			return nil, words.Refuse("You have no recipe called %q.", name)
		}
		return slices.Delete(all, at, at+1), nil
	})
}

func changeRecipes(ctx context.Context, s *plan.Desk, label string, change func([]store.Recipe) ([]store.Recipe, error)) error {
	return plan.ChangeOwn(ctx, s, recipeScope, label, store.Tx.Recipes, store.Tx.PutRecipes, change)
}

// StepRecipes undoes or redoes the last change of the maker's own recipes.
func StepRecipes(ctx context.Context, s *plan.Desk, undo bool) (label string, err error) {
	return plan.StepOwn(ctx, s, recipeScope, undo, store.Tx.PutRecipes)
}

// RecipeSteps says what undo would take back of the own recipes, empty when
// nothing.
func RecipeSteps(ctx context.Context, s *plan.Desk) (undo, redo string, err error) {
	return s.Store.Read(ctx).Labels(recipeScope)
}

// StartByRecipe starts a ramp from a card of the tray by the recipe of a name.
type StartByRecipe struct {
	Key    int    `form:"key"`
	Recipe string `form:"recipe"`
}

func (e StartByRecipe) Do(d *plan.Draft) (string, error) {
	r, err := Recipe(d.Ctx, d.Desk, e.Recipe)
	if err != nil {
		return "", err
	}
	return StartRamp{Key: e.Key, Recipe: r}.Do(d)
}

// MakeByRecipe makes a ramp by the recipe of a name.
type MakeByRecipe struct {
	Key    int    `form:"key"`
	Recipe string `form:"recipe"`
}

func (e MakeByRecipe) Do(d *plan.Draft) (string, error) {
	r, err := Recipe(d.Ctx, d.Desk, e.Recipe)
	if err != nil {
		return "", err
	}
	return UseRecipe{Key: e.Key, Recipe: r}.Do(d)
}

// KeepRecipe keeps a ramp's recipe among the maker's own.
type KeepRecipe struct {
	Key    int    `form:"key"`
	Recipe string `form:"recipe"`
}

func (e KeepRecipe) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	r, err := RampOf(p, e.Key)
	if err != nil {
		return "", words.Refuse("That ramp was deleted.")
	}
	return e.Recipe + " is saved in your recipes.", SaveRecipe(ctx, k, e.Recipe, r.Recipe)
}

// ForgetRecipe forgets a recipe of the maker's own.
type ForgetRecipe struct {
	Recipe string `form:"recipe"`
}

func (e ForgetRecipe) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	return e.Recipe + " is deleted. You can undo it below the recipes.", DropRecipe(ctx, k, e.Recipe)
}

// UndoRecipes takes back the last change of the maker's own recipes.
type UndoRecipes struct{}

func (UndoRecipes) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	label, err := StepRecipes(ctx, k, true)
	return "Undone: " + label + ".", err
}
