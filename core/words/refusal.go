package words

import "fmt"

// Refusal is a request that cannot be done, as one sentence that says what to
// do instead. Nothing was changed.
type Refusal string

// Error implements error.
func (r Refusal) Error() string { return string(r) }

// Refuse is a Refusal written as by fmt.Sprintf.
func Refuse(format string, args ...any) error { return Refusal(fmt.Sprintf(format, args...)) }
