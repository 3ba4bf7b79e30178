package plan

// Wish is a colour that the shelf lacks.
type Wish struct {
	Key  int     `json:"key"`
	Name string  `json:"name"`
	L    float64 `json:"l"`
	A    float64 `json:"a"`
	B    float64 `json:"b"`
}
