package words

// Term is a word of the field, what it means in a sentence or two, and colours side by side that show it.
type Term struct {
	Name, Means string
	Shown       []string
}

// Terms are the words that the program explains, in the order of the alphabet.
var Terms = []Term{
	{"Accent", "A small amount of a strong or rare colour that the eye goes to.",
		[]string{"#7d8471", "#7d8471", "#7d8471", "#7d8471", "#c8452c", "#7d8471"}},
	{"Analogous", "Of hues that are side by side on the wheel.",
		[]string{"#3f7f6b", "#3f7f8a", "#3f6b93"}},
	{"Arrangement", "Which card is on which part of the piece. The same cards in another arrangement make another piece.",
		[]string{"#22345a", "#d9c9a3", "#a5522d", "#d9c9a3", "#22345a", "#a5522d"}},
	{"Clearness", "How strong a colour is: clear, soft or muted. Also called saturation or chroma.",
		[]string{"#c02f2f", "#a4504a", "#85645f"}},
	{"Colourway", "One saved way of colouring a piece.",
		[]string{"#22345a", "#d9c9a3", "#a5522d"}},
	{"Complementary", "Of hues that are opposite one another on the wheel. Clear and side by side they make each other stronger.",
		[]string{"#2f6f9e", "#d07a2d"}},
	{"Dye lot", "Material dyed in one go. Two lots of one colour can differ, so keep them out of the same part.",
		[]string{"#5c6a3a", "#646f45"}},
	{"Echo", "A colour that returns elsewhere, clearer or lighter or darker, and so ties the piece together.",
		[]string{"#8a2b4a", "#d9c9a3", "#d8a3b3"}},
	{"First look", "What the eye sees first: a colour that is strong, rare, and different from what surrounds it.",
		[]string{"#8b8f86", "#8b8f86", "#d9a31e", "#8b8f86", "#8b8f86"}},
	{"Gradient", "Colours in even steps, most often of value.",
		[]string{"#1d2b45", "#35507a", "#5d7ba6", "#93abca", "#cad6e4"}},
	{"Ground", "The colour that covers most of the piece, behind the others.",
		[]string{"#3d3a44", "#3d3a44", "#3d3a44", "#c9a227", "#3d3a44"}},
	{"Hue", "What makes a colour red, yellow, green or blue: its place on the wheel.",
		[]string{"#b03a3a", "#c9a227", "#4f7f3f", "#35608f"}},
	{"Key", "How light the whole of a piece is: high when it is mostly light, low when it is mostly dark.",
		[]string{"#f1ece0", "#e3d6c3", "#d2d9dc"}},
	{"Neutral", "Without a visible hue: white, grey, black, and colours close to them.",
		[]string{"#efece6", "#8a8783", "#24242a"}},
	{"Placed by area", "Weighed by how much of the piece a colour covers.",
		[]string{"#4b2346", "#4b2346", "#4b2346", "#4b2346", "#d9c9a3"}},
	{"Scheme", "A set of places on the wheel, such as three evenly spaced.",
		[]string{"#c03a35", "#d9b328", "#2f5fa0"}},
	{"Shade", "A colour with black in it. A tint has white in it, a tone grey.",
		[]string{"#e2a3ab", "#b33a4c", "#5a1c27"}},
	{"Spark", "A very small accent.",
		[]string{"#2e3b34", "#2e3b34", "#2e3b34", "#2e3b34", "#2e3b34", "#2e3b34", "#e0b83c", "#2e3b34"}},
	{"Temperature", "Warm toward red, orange and yellow, cool toward green, blue and violet. Teachers differ on where warm ends.",
		[]string{"#c4632c", "#c9a227", "#3f7f6b", "#35608f"}},
	{"Undertone", "The way a colour leans: a red toward blue or toward yellow.",
		[]string{"#a8324f", "#b5402f"}},
	{"Value", "How light or dark a colour is, from 0, black, to 10, white. Two colours of the same value have a soft edge, whatever their hues.",
		[]string{"#161616", "#5a5a5a", "#a0a0a0", "#eeeeee"}},
	{"Value step", "One of the ten steps from black to white. Under about one step an edge is soft; from three on it is crisp.",
		[]string{"#4a4a4a", "#626262", "#adadad"}},
	{"ΔE", "How different two colours look (ΔE00, CIE 2000). Under 1 nobody sees it, 2 to 3 is a good match, and from 10 they are clearly two colours.",
		[]string{"#8a5a86", "#8c5d85", "#9c6f8a", "#c08f92"}},
}
