// Package chance draws numbers that are the same each time for the same seed.
package chance

import "math"

// Source is splitmix64 (Steele, Lea, Flood 2014); its value is the seed.
type Source uint64

// Next gives 64 bits.
func (s *Source) Next() uint64 {
	*s += 0x9E3779B97F4A7C15
	z := uint64(*s)
	z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9
	z = (z ^ (z >> 27)) * 0x94D049BB133111EB
	return z ^ (z >> 31)
}

// Unit gives a number between 0 and 1, neither of them.
func (s *Source) Unit() float64 { return (float64(s.Next()>>11) + .5) / (1 << 53) }

// Normal draws a number of the normal distribution by two of the generator (Box, Muller 1958).
func (s *Source) Normal() float64 {
	u1 := s.Unit()
	u2 := s.Unit()
	return math.Sqrt(-2*math.Log(u1)) * math.Cos(2*math.Pi*u2)
}
