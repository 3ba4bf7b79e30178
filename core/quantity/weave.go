package quantity

import "math"

// SettIn is wraps of a yarn in an inch, and the weave's repeat.
type SettIn struct {
	WPI           float64  `json:"wpi" in:"wraps per inch; 1 to 200; usual 4 80"`
	EndsInRepeat  *float64 `json:"ends_in_repeat" in:"ends in one repeat; 2 to 64; whole; or 2"`
	Intersections *float64 `json:"intersections" in:"intersections; 1 to 64; whole; or 2"`
	DensityPct    *float64 `json:"density_pct" in:"density; 30 to 300; unit %; usual 75 130; or 100"`
}

// SettOut is ends in an inch and in a cm.
type SettOut struct {
	Exact struct {
		EPI float64 `json:"epi"`
		EPC float64 `json:"epc"`
	} `json:"unrounded"`
	Rounded struct {
		EPI float64 `json:"epi"`
		EPC float64 `json:"epc"`
	} `json:"rounded"`
	Notes
}

// Sett is a starting value of the sett, from wraps and the weave's repeat.
func Sett(in SettIn) (out SettOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	r, i := *in.EndsInRepeat, *in.Intersections
	if i > r {
		return out, fault("contradiction", "intersections", "A weave cannot change face more often than it has ends.")
	}
	epi := in.WPI * r / (r + i) * *in.DensityPct / 100
	out.Exact.EPI, out.Exact.EPC = epi, epi/centimetres
	out.Rounded.EPI, out.Rounded.EPC = near(epi, 1), near(epi/centimetres, .5)
	out.say("%s × %s / (%s + %s) × %s%% = %s ends per inch, %s per cm", in.WPI, r, r, i, in.DensityPct, epi, epi/centimetres)
	return out, nil
}

// WarpIn is a cloth, its loom and the order of its ends.
type WarpIn struct {
	FinishedWidth   float64  `json:"finished_width_cm" in:"finished width; over 0 to 500; unit cm"`
	FinishedLength  float64  `json:"finished_length_cm" in:"finished length; over 0 to 5000; unit cm"`
	Items           *float64 `json:"items" in:"number of items; 1 to 200; whole; or 1"`
	SettEPC         float64  `json:"sett_epc" in:"ends per cm; .2 to 80; usual 1 40"`
	DrawInPct       *float64 `json:"draw_in_pct" in:"draw-in; 0 to 30; unit %; usual 3 15; or 8"`
	WidthShrinkPct  *float64 `json:"width_shrink_pct" in:"shrinkage of the width; 0 to 30; unit %; usual 0 20; or 5"`
	TakeUpPct       *float64 `json:"take_up_pct" in:"warp take-up; 0 to 30; unit %; usual 4 15; or 8"`
	LengthShrinkPct *float64 `json:"length_shrink_pct" in:"shrinkage of the length; 0 to 30; unit %; usual 0 20; or 5"`
	LossModel       string   `json:"loss_model" in:"loss model; one add multiply; or add"`
	Hem             float64  `json:"hem_cm" in:"hem allowance; 0 to 50; unit cm; or 0"`
	Fringe          float64  `json:"fringe_cm" in:"fringe; 0 to 100; unit cm; or 0"`
	LoomWaste       *float64 `json:"loom_waste_cm" in:"loom waste; 0 to 300; unit cm; usual 40 100; or 70"`
	Sampling        *float64 `json:"sampling_cm" in:"warp for sampling; 0 to 500; unit cm; or 20"`
	ThreadingRepeat *float64 `json:"threading_repeat" in:"threading repeat; 1 to 2000; whole; or 1"`
	ExtraEnds       float64  `json:"extra_ends" in:"extra ends; 0 to 200; whole; or 0"`
	StripeOrder     []Ends   `json:"stripe_order" in:"order of the stripes"`
	StripeFit       string   `json:"stripe_fit" in:"fit of the stripes; one cut whole; or cut"`
	ReedWidth       float64  `json:"reed_width_cm" in:"weaving width of the loom; over 0 to 500; unit cm"`
	WastePct        *float64 `json:"waste_pct" in:"allowance; 0 to 50; unit %; usual 0 10; or 5"`
	Grist           float64  `json:"grist_m_per_kg" in:"yarn length per mass; 20 to 200000; unit m/kg; usual 200 60000"`
	PackageG        float64  `json:"package_g" in:"mass of one skein; over 0 to 10000; unit g"`
}

// Ends is a stripe of the warp.
type Ends struct {
	Colour string  `json:"colour" in:"colour"`
	Ends   float64 `json:"ends" in:"number of ends; 0 to 10000; whole"`
}

// WarpOut is a warp: its ends, width and length, and its yarn by colour.
type WarpOut struct {
	Exact struct {
		Reed       float64 `json:"reed_raw_cm"`
		Ends       float64 `json:"ends_raw"`
		WarpLength float64 `json:"warp_length_cm"`
		YarnExact
	} `json:"unrounded"`
	Rounded struct {
		Ends         float64  `json:"ends"`
		ReedUsed     float64  `json:"reed_used_cm"`
		WarpLength   float64  `json:"warp_length_cm"`
		EndsByColour ByColour `json:"ends_by_colour"`
		Packages     ByColour `json:"packages"`
	} `json:"rounded"`
	Notes
}

// YarnExact is yarn by colour.
type YarnExact struct {
	Metres ByColour `json:"metres"`
	Grams  ByColour `json:"grams"`
}

// Warp works out the ends, the length and the yarn of a warp.
func Warp(in WarpIn) (out WarpOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	var order []thread
	sum := 0.0
	for _, s := range in.StripeOrder {
		order, sum = append(order, thread{s.Colour, s.Ends}), sum+s.Ends
	}
	if sum == 0 {
		return out, fault("empty", "stripe_order", "The order of the stripes has nothing in it.")
	}
	loss := func(x, p, q float64) float64 {
		if in.LossModel == "multiply" {
			return x / ((1 - p/100) * (1 - q/100))
		}
		return x / (1 - (p+q)/100)
	}
	sett := in.SettEPC
	reed := loss(in.FinishedWidth, *in.DrawInPct, *in.WidthShrinkPct)
	raw := reed * sett
	multiple := *in.ThreadingRepeat
	if in.StripeFit == "whole" {
		multiple = multiple * sum / common(multiple, sum)
	}
	base := upInt(upInt(raw)/multiple) * multiple
	ends := base + in.ExtraEnds
	used := ends / sett
	out.say("width in the reed = %s cm; ends = %s × %s = %s, in whole repeats %s + %s = %s; reed used %s cm", reed, reed, sett, raw, base,
		in.ExtraEnds, ends, used)
	if loom := in.ReedWidth; used > loom+fit {
		return out, fault("does_not_fit", "reed_width_cm",
			"The warp needs %s cm in the reed and the loom has %s. The widest cloth that fits is about %s cm; or weave two panels.",
			near(used, .01), loom, near(loom*(1-(*in.DrawInPct+*in.WidthShrinkPct)/100), .1))
	}
	items := *in.Items
	long := loss((in.FinishedLength+2*in.Hem)*items, *in.TakeUpPct, *in.LengthShrinkPct) + 2*in.Fringe*items + *in.LoomWaste + *in.Sampling
	wound := up(long, 10)
	how := "%s × (%s + 2 × %s hem) / (1 − %s%% − %s%%)"
	if in.LossModel == "multiply" {
		how = "%s × (%s + 2 × %s hem) / ((1 − %s%%) × (1 − %s%%))"
	}
	out.say("warp length = "+how+" + %s × 2 × %s fringe + %s on the loom + %s for samples = %s cm, wound as %s cm", items, in.FinishedLength,
		in.Hem, in.TakeUpPct, in.LengthShrinkPct, items, in.Fringe, in.LoomWaste, in.Sampling, long, wound)
	colours, by, _ := expand(order, base)
	by[order[0].colour] += in.ExtraEnds
	x, r := &out.Exact, &out.Rounded
	x.Reed, x.Ends, x.WarpLength = reed, raw, long
	r.Ends, r.ReedUsed, r.WarpLength, r.EndsByColour = ends, near(used, .01), wound, by
	yarn := woundYarn{in.Grist, in.PackageG, *in.WastePct, &out.Notes}
	x.YarnExact, r.Packages = yarn.of(colours, func(name string) (float64, string) {
		return by[name] * wound / 100, figure(by[name]) + " ends × " + figure(wound/100) + " m"
	})
	return out, nil
}

// woundYarn is yarn of a length in a mass and a mass in a skein, with what is spared of it in %.
type woundYarn struct {
	grist, skein, waste float64
	notes               *Notes
}

// of is the yarn of each colour and its skeins, by the metres of each and how they come about.
func (y woundYarn) of(colours []string, metres func(name string) (float64, string)) (exact YarnExact, packs ByColour) {
	exact, packs = YarnExact{ByColour{}, ByColour{}}, ByColour{}
	for _, name := range colours {
		m, how := metres(name)
		m *= 1 + y.waste/100
		grams := m / y.grist * 1000
		exact.Metres[name], exact.Grams[name], packs[name] = m, grams, upInt(grams/y.skein)
		y.notes.sayOf(name, "%s, with %s%% more %s m = %s g", how, y.waste, m, grams)
		y.notes.sold("%s: %s × %s g", name, packs[name], y.skein)
	}
	return exact, packs
}

// common is the greatest common factor of two whole numbers.
func common(a, b float64) float64 {
	for b != 0 {
		a, b = b, math.Mod(a, b)
	}
	return a
}

// WeftIn is a cloth as wide as its warp, and the order of its picks.
type WeftIn struct {
	FinishedLength  float64  `json:"finished_length_cm" in:"finished length; over 0 to 5000; unit cm"`
	Items           *float64 `json:"items" in:"number of items; 1 to 200; whole; or 1"`
	Hem             float64  `json:"hem_cm" in:"hem allowance; 0 to 50; unit cm; or 0"`
	LengthShrinkPct *float64 `json:"length_shrink_pct" in:"shrinkage of the length; 0 to 30; unit %; usual 0 20; or 5"`
	PPC             float64  `json:"ppc" in:"picks per cm; .2 to 80; usual 1 40"`
	PPCBasis        string   `json:"ppc_basis" in:"place where picks were counted; one loom finished; or loom"`
	ReedUsed        float64  `json:"reed_used_cm" in:"width of the warp in the reed; over 0 to 500; unit cm"`
	WeftTakeUpPct   *float64 `json:"weft_take_up_pct" in:"weft take-up; 0 to 40; unit %; usual 0 15; or 5"`
	WeftOrder       []Picks  `json:"weft_order" in:"order of the picks"`
	Tail            *float64 `json:"tail_cm" in:"tail; 0 to 50; unit cm; or 5"`
	WastePct        *float64 `json:"waste_pct" in:"allowance; 0 to 50; unit %; usual 0 10; or 5"`
	Grist           float64  `json:"grist_m_per_kg" in:"yarn length per mass; 20 to 200000; unit m/kg; usual 200 60000"`
	PackageG        float64  `json:"package_g" in:"mass of one skein; over 0 to 10000; unit g"`
}

// Picks is a stripe of the weft.
type Picks struct {
	Colour string  `json:"colour" in:"colour"`
	Picks  float64 `json:"picks" in:"number of picks; 0 to 100000; whole"`
}

// WeftOut is a weft: its picks and their yarn by colour.
type WeftOut struct {
	Exact struct {
		WovenLength float64 `json:"woven_length_cm"`
		Picks       float64 `json:"picks_raw"`
		YarnExact
	} `json:"unrounded"`
	Rounded struct {
		Picks         float64  `json:"picks"`
		PicksByColour ByColour `json:"picks_by_colour"`
		RunsByColour  ByColour `json:"runs_by_colour"`
		Packages      ByColour `json:"packages"`
	} `json:"rounded"`
	Notes
}

// Weft works out the picks and the yarn of a weft.
func Weft(in WeftIn) (out WeftOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	var order []thread
	sum := 0.0
	for _, s := range in.WeftOrder {
		order, sum = append(order, thread{s.Colour, s.Picks}), sum+s.Picks
	}
	if sum == 0 {
		return out, fault("empty", "weft_order", "The order of the picks has nothing in it.")
	}
	woven := (in.FinishedLength + 2*in.Hem) * *in.Items
	if in.PPCBasis == "loom" {
		woven /= 1 - *in.LengthShrinkPct/100
	}
	raw := in.PPC * woven
	picks := upInt(raw)
	colours, by, runs := expand(order, picks)
	pick := in.ReedUsed / 100 * (1 + *in.WeftTakeUpPct/100)
	tails := 2 * *in.Tail / 100
	out.say("woven length %s cm × %s = %s, up to %s picks; one pick %s m", woven, in.PPC, raw, picks, pick)
	x, r := &out.Exact, &out.Rounded
	x.WovenLength, x.Picks, r.Picks, r.PicksByColour, r.RunsByColour = woven, raw, picks, by, runs
	yarn := woundYarn{in.Grist, in.PackageG, *in.WastePct, &out.Notes}
	x.YarnExact, r.Packages = yarn.of(colours, func(name string) (float64, string) {
		return by[name]*pick + runs[name]*tails,
			figure(by[name]) + " picks × " + figure(pick) + " m + " + figure(runs[name]) + " runs × " + figure(tails) + " m of tails"
	})
	return out, nil
}

// FaceShareIn is a weave and its yarns.
type FaceShareIn struct {
	Over    float64 `json:"over" in:"picks passed over; 1 to 32; whole"`
	Under   float64 `json:"under" in:"picks passed under; 1 to 32; whole"`
	SettEPC float64 `json:"sett_epc" in:"ends per cm; .2 to 80"`
	PPC     float64 `json:"ppc" in:"picks per cm; .2 to 80"`
	WarpWPI float64 `json:"warp_wpi" in:"wraps per inch of the warp yarn; 1 to 200"`
	WeftWPI float64 `json:"weft_wpi" in:"wraps per inch of the weft yarn; 1 to 200"`
}

// FaceShareOut is the shares of a cloth's face, 0 to 1, and rounded in %.
type FaceShareOut struct {
	Exact struct {
		P         float64 `json:"p"`
		WarpCover float64 `json:"warp_cover_raw"`
		WeftCover float64 `json:"weft_cover_raw"`
		PEff      float64 `json:"p_eff"`
		WarpArea  float64 `json:"warp_area"`
		WeftArea  float64 `json:"weft_area"`
		Gap       float64 `json:"gap"`
		WarpShare float64 `json:"warp_share"`
		WeftShare float64 `json:"weft_share"`
	} `json:"unrounded"`
	Rounded struct {
		WarpSharePct float64 `json:"warp_share_pct"`
		WeftSharePct float64 `json:"weft_share_pct"`
	} `json:"rounded"`
	Notes
}

// openGap is the share of background from which a cloth is open.
const openGap = .25

// FaceShare is what the eye blends of warp and weft.
func FaceShare(in FaceShareIn) (out FaceShareOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	p := in.Over / (in.Over + in.Under)
	rawW, rawF := in.SettEPC*centimetres/in.WarpWPI, in.PPC*centimetres/in.WeftWPI
	w, f := math.Min(1, rawW), math.Min(1, rawF)
	clamp := func(v float64) float64 { return math.Max(0, math.Min(1, v)) }
	crowd := clamp(rawW-1) - clamp(rawF-1)
	q := p + p*crowd
	if crowd >= 0 {
		q = p + (1-p)*crowd
	}
	x := &out.Exact
	x.P, x.WarpCover, x.WeftCover, x.PEff = p, rawW, rawF, q
	x.WarpArea, x.WeftArea, x.Gap = w*(1-f)+q*w*f, f*(1-w)+(1-q)*w*f, (1-w)*(1-f)
	x.WarpShare = x.WarpArea / (x.WarpArea + x.WeftArea)
	x.WeftShare = 1 - x.WarpShare
	out.Rounded.WarpSharePct = near(100*x.WarpShare, 1)
	out.Rounded.WeftSharePct = 100 - out.Rounded.WarpSharePct
	if rawW > 1+fit && rawF > 1+fit {
		out.warn("very_dense")
	}
	if x.Gap > openGap {
		out.warn("open_cloth")
	}
	out.say("the warp is on top at %s of the crossings; it covers %s, the weft %s; crowding %s, so %s", p, rawW, rawF, crowd, q)
	out.say("warp %s, weft %s, gap %s: the warp shows %s, the weft %s", x.WarpArea, x.WeftArea, x.Gap, x.WarpShare, x.WeftShare)
	return out, nil
}
