package password_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/password"
	"heptad/internal/core/refusal"
)

func TestCheck(t *testing.T) {
	for text, want := range map[string]string{
		"": refusal.ShortPassword, "elevenchars": refusal.ShortPassword, "twelve chars": "", "ååååååååååå": refusal.ShortPassword, "åååååååååååå": refusal.CommonPassword,
		"123456qwerty": refusal.CommonPassword, "LeaveMeAlone": refusal.CommonPassword, "1qaz2wsx3edc": refusal.CommonPassword, "Signe Halvorsen": refusal.CommonPassword,
		"grey heron at the north pier": "", strings.Repeat("ab", 129): refusal.LongPassword, strings.Repeat("ab", 128): "",
	} {
		problem := password.Check(text, "s.halvorsen", "signe halvorsen", "")
		if want == "" {
			assert.Nil(t, problem, text)
		} else if assert.NotNil(t, problem, text) {
			assert.Equal(t, want, problem.Code, text)
		}
	}
}

// However it is typed or pasted, it is the same password.
func TestNormal(t *testing.T) {
	assert.Equal(t, password.Normal("café au lait!"), password.Normal(" cafe\u0301 au lait!\n"))
	assert.Equal(t, "a b", password.Normal("\u00a0a b "))
	assert.NotEqual(t, password.Normal("Grey heron 1"), password.Normal("grey heron 1"))
}
