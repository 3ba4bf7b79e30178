package quantity

// PaintIn is a surface that is painted: of one model in cm², how often, the coats, and how it is put on.
type PaintIn struct {
	Area         float64  `json:"area_cm2" in:"surface; 0 to 1000000; unit cm²"`
	Count        *float64 `json:"count" in:"number of models; 0 to 100000; whole; or 1"`
	Detail       *float64 `json:"detail" in:"factor for relief; 1 to 3; usual 1 1.6; or 1.2"`
	DryFilm      *float64 `json:"dft_um" in:"dry film of a coat; 1 to 200; unit µm; usual 8 40; or 15"`
	Solids       *float64 `json:"solids" in:"solids of the paint; .02 to 1; usual .2 .6; or .35"`
	Coats        *float64 `json:"coats" in:"number of coats; 0 to 20; whole; or 2"`
	Method       string   `json:"method" in:"method; one brush airbrush aerosol"`
	Transfer     *float64 `json:"transfer" in:"part of the paint that ends up on the model; .05 to 1"`
	MinML        *float64 `json:"min_ml" in:"least useful quantity; 0 to 100; unit ml"`
	ThinnerRatio *float64 `json:"thinner_ratio" in:"thinner to one ml of paint; 0 to 5; unit ml"`
	WastePct     *float64 `json:"waste_pct" in:"cleaning loss and touch-ups; 0 to 100; unit %; usual 5 25; or 10"`
	DropML       *float64 `json:"drop_ml" in:"size of a drop; .01 to .2; unit ml; usual .03 .06; or .05"`
	PotML        float64  `json:"pot_ml" in:"paint in one pot; over 0 to 5000; unit ml"`
	UsablePct    *float64 `json:"usable_pct" in:"part of a pot that can be got out; 10 to 100; unit %; usual 75 95; or 90"`
}

// PaintOut is the paint and thinner of a surface.
type PaintOut struct {
	Exact struct {
		Area      float64 `json:"area_cm2"`
		WetUM     float64 `json:"wet_um"`
		PaintML   float64 `json:"paint_ml"`
		UseML     float64 `json:"use_ml"`
		ThinnerML float64 `json:"thinner_ml"`
	} `json:"unrounded"`
	Rounded struct {
		Drops     float64 `json:"drops"`
		UseML     float64 `json:"use_ml"`
		ThinnerML float64 `json:"thinner_ml"`
		Pots      float64 `json:"pots"`
	} `json:"rounded"`
	Notes
}

// paintWay is transfer, least useful ml and thinner to one ml, by way of painting.
type paintWay struct{ transfer, least, thinner float64 }

var paintWays = map[string]paintWay{"brush": {.8, .1, .25}, "airbrush": {.5, .5, 1}, "aerosol": {.35, 0, 0}}

// Paint works out the paint that coats of a surface take.
func Paint(in PaintIn) (out PaintOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	way := paintWays[in.Method]
	use(&way.transfer, in.Transfer)
	use(&way.least, in.MinML)
	use(&way.thinner, in.ThinnerRatio)
	area := in.Area * *in.Count * *in.Detail
	wet := *in.DryFilm / *in.Solids
	paint := area * wet * .0001 * *in.Coats / way.transfer * (1 + *in.WastePct/100)
	used := paint
	if paint > 0 && paint < way.least-fit {
		used = way.least
		out.warn("minimum_mix")
	}
	thinner := used * way.thinner
	x, r := &out.Exact, &out.Rounded
	x.Area, x.WetUM, x.PaintML, x.UseML, x.ThinnerML = area, wet, paint, used, thinner
	r.Drops, r.UseML, r.ThinnerML, r.Pots = upInt(used / *in.DropML), up(used, .1), up(thinner, .1), upInt(used/(in.PotML**in.UsablePct/100))
	out.say("area %s cm²; wet film %s µm; %s × %s × 0.0001 × %s / %s with %s%% more = %s ml; use %s ml = %s drops; thinner %s ml",
		area, wet, area, wet, in.Coats, way.transfer, in.WastePct, paint, used, r.Drops, thinner)
	out.sold("%s", many(r.Pots, "pot"))
	return out, nil
}

// DropsIn is a mix by drops: whole parts, and how much of it is needed.
type DropsIn struct {
	Parts    Amounts  `json:"parts" in:"parts; 0 to 1000; whole"`
	NeedML   float64  `json:"need_ml" in:"mixed paint needed; 0 to 5000; unit ml"`
	ExtraPct *float64 `json:"extra_pct" in:"extra; 0 to 100; unit %; usual 10 30; or 20"`
	DropML   *float64 `json:"drop_ml" in:"size of a drop; .01 to .2; unit ml; or .05"`
}

// DropsOut is the drops of each paint, in whole rounds of the recipe.
type DropsOut struct {
	Exact struct {
		Drops float64 `json:"drops_raw"`
	} `json:"unrounded"`
	Rounded struct {
		Rounds  float64  `json:"rounds"`
		Drops   ByColour `json:"drops"`
		TotalML float64  `json:"total_ml"`
	} `json:"rounded"`
	Notes
}

// Drops counts the drops of a mix.
func Drops(in DropsIn) (out DropsOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	sum := in.Parts.sum()
	if sum == 0 {
		return out, fault("empty", "parts", "The parts have nothing in them.")
	}
	raw := in.NeedML * (1 + *in.ExtraPct/100) / *in.DropML
	rounds := upInt(upInt(raw) / sum)
	out.Rounded.Drops = ByColour{}
	for _, p := range in.Parts {
		out.Rounded.Drops[p.Name] = p.N * rounds
		out.sayOf(p.Name, "%s × %s = %s drops", p.N, rounds, p.N*rounds)
	}
	out.Exact.Drops, out.Rounded.Rounds, out.Rounded.TotalML = raw, rounds, sum*rounds**in.DropML
	out.say("%s ml with %s%% more / %s = %s drops; one round is %s drops, so %s rounds", in.NeedML, in.ExtraPct, in.DropML, raw, sum, rounds)
	return out, nil
}
