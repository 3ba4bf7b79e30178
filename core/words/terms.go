package words

// Term is a word of the field and what it means, in a sentence or two.
type Term struct{ Name, Means string }

// Terms are the words that the program explains, in the order of the alphabet.
var Terms = []Term{
	{"Accent", "A small amount of a strong or rare colour that the eye goes to."},
	{"Analogous", "Of hues that are side by side on the wheel."},
	{"Arrangement", "Which card is on which part of the piece. The same cards in another arrangement make another piece."},
	{"Clearness", "How strong a colour is: clear, soft or muted. Also called saturation or chroma."},
	{"Colourway", "One saved way of colouring a piece."},
	{"Complementary", "Of hues that are opposite one another on the wheel. Clear and side by side they make each other stronger."},
	{"Dye lot", "Material dyed in one go. Two lots of one colour can differ, so keep them out of the same part."},
	{"Echo", "A colour that returns elsewhere, clearer or lighter or darker, and so ties the piece together."},
	{"First look", "What the eye sees first: a colour that is strong, rare, and different from what surrounds it."},
	{"Gradient", "Colours in even steps, most often of value."},
	{"Ground", "The colour that covers most of the piece, behind the others."},
	{"Hue", "What makes a colour red, yellow, green or blue: its place on the wheel."},
	{"Key", "How light the whole of a piece is: high when it is mostly light, low when it is mostly dark."},
	{"Neutral", "Without a visible hue: white, grey, black, and colours close to them."},
	{"Placed by area", "Weighed by how much of the piece a colour covers."},
	{"Scheme", "A set of places on the wheel, such as three evenly spaced."},
	{"Shade", "A colour with black in it. A tint has white in it, a tone grey."},
	{"Spark", "A very small accent."},
	{"Temperature", "Warm toward red, orange and yellow, cool toward green, blue and violet. Teachers differ on where warm ends."},
	{"Undertone", "The way a colour leans: a red toward blue or toward yellow."},
	{"Value", "How light or dark a colour is, from 0, black, to 10, white. Two colours of the same value have a soft edge, whatever their hues."},
	{"Value step", "One of the ten steps from black to white. Under about one step an edge is soft; from three on it is crisp."},
	{"ΔE", "How different two colours look (ΔE00, CIE 2000). Under 1 nobody sees it, 2 to 3 is a good match, and from 10 they are clearly two colours."},
}
