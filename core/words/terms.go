package words

// Term is a word of the field and what it means, in a sentence or two.
type Term struct{ Name, Means string }

// Terms are the words that the program explains, in the order of the alphabet.
var Terms = []Term{
	{"Accent", "A small amount of a strong or rare colour that the eye goes to."},
	{"Analogous", "Of hues that lie side by side on the wheel."},
	{"Arrangement", "Which card is on which part of the piece. The same cards in another arrangement read as another piece."},
	{"Clearness", "How strong a colour is: clear at its strongest, then soft, then muted. Some say saturation or chroma."},
	{"Colourway", "One way of colouring a piece that is kept beside others."},
	{"Complementary", "Of hues that lie opposite one another on the wheel. Clear and side by side they make each other stronger."},
	{"Dye lot", "What was dyed in one go. Two lots of one colour can differ, so they should not meet in one part."},
	{"Echo", "A colour that comes back elsewhere in another clearness or value, and so ties the piece together."},
	{"First look", "Where the eye goes first: by strength of colour, how much it differs from what is round it, how rare it is and how much there is of it."},
	{"Gradient", "A run of colours in even steps, most often of value."},
	{"Ground", "The colour that takes most of the piece and that the others lie on."},
	{"Hue", "What makes a colour red, yellow, green or blue, whatever its value and clearness: its place round the wheel."},
	{"Key", "How light the whole of a piece is: high when it is mostly light, low when it is mostly dark."},
	{"Neutral", "Without a hue that one sees: white, grey, black, and what lies near them."},
	{"Placed by area", "Counted by how much of the piece a colour covers."},
	{"Scheme", "A set of places on the wheel, such as three that lie evenly round it."},
	{"Shade", "A colour with black in it. With white it is a tint, with grey a tone."},
	{"Spark", "An accent of very little area."},
	{"Temperature", "Warm toward red, orange and yellow, cool toward green, blue and violet. Where warm ends is a matter of schools."},
	{"Undertone", "The way a colour leans: a red toward blue or toward yellow."},
	{"Value", "How light or dark a colour is, from 0, black, to 10, white. Two colours of one value have a soft edge, whatever their hues."},
	{"Value step", "One of the ten steps from black to white. Under about one step an edge is soft; from three on it is crisp."},
	{"ΔE", "How far two colours lie apart to the eye (ΔE00, CIE 2000). Under 1 nobody sees it, 2 to 3 is a good match, from 10 they are plainly two colours."},
}
