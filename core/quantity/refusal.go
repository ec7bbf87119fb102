// Package quantity holds what a number in Dynacor needs before anything is computed with it: its kind, its unit, the
// way a person writes it, and the way a scale can show it. It must never know about bolts, tools or joints.
package quantity

import (
	"errors"
	"fmt"
	"math"
	"reflect"
)

// Refusal is the error of every calculation in core: the input that cannot be used, why, and what to do about it.
// It reads as a sentence for the person who typed the value.
type Refusal struct {
	Field  string `json:"field"`            // the input's name as the caller knows it, e.g. "torque"
	Why    string `json:"why"`              // what is wrong with it, with the value and the limit
	Remedy string `json:"remedy,omitempty"` // what to do

	Choices []string `json:"choices,omitempty"` // what may have been meant, when it is one of a few
}

// Error gives "field: why. remedy".
func (r *Refusal) Error() string {
	s := r.Field + ": " + r.Why
	if r.Remedy != "" {
		s += ". " + r.Remedy
	}
	return s
}

// Refuse makes a Refusal; why is a format string.
func Refuse(field, remedy, why string, args ...any) error {
	return &Refusal{Field: field, Why: fmt.Sprintf(why, args...), Remedy: remedy}
}

// RefusalIn finds the Refusal inside err, if there is one.
func RefusalIn(err error) (*Refusal, bool) {
	var r *Refusal
	ok := errors.As(err, &r)
	return r, ok
}

// Positive refuses the first of the named values that is not a finite number above zero. A value is a float64 or one of
// the quantities.
func Positive(pairs ...any) error {
	for i := 0; i+1 < len(pairs); i += 2 {
		name, v := pairs[i].(string), reflect.ValueOf(pairs[i+1]).Float()
		if !Finite(v) {
			return Refuse(name, "Enter a plain number.", "is not a finite number")
		}
		if v <= 0 {
			return Refuse(name, "Enter a value above zero.", "is %s, which is not above zero", Text(v))
		}
	}
	return nil
}

// Between refuses v outside lo…hi (limits included).
func Between(name string, v, lo, hi float64) error {
	if !Finite(v) {
		return Refuse(name, "Enter a plain number.", "is not a finite number")
	}
	if v < lo || v > hi {
		return Refuse(name, "Check for a typing error.", "is %s, outside %s to %s", Text(v), Text(lo), Text(hi))
	}
	return nil
}

// Finite reports whether v is neither NaN nor infinite.
func Finite(v float64) bool { return !math.IsNaN(v) && !math.IsInf(v, 0) }
