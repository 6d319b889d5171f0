package refusal

import (
	"errors"
	"fmt"
	"io"
	"testing"
)

// What the disk says never becomes a sentence to whoever asked, however it is wrapped.
func TestAFailureStaysAFailure(t *testing.T) {
	for _, err := range []error{io.ErrUnexpectedEOF, fmt.Errorf("read the day: %w", io.ErrUnexpectedEOF),
		Errorf("instalment 2: %w", io.ErrUnexpectedEOF)} {
		if Is(err) || Is(As(Invalid, "day", err)) || !errors.Is(As(Conflict, "", err), io.ErrUnexpectedEOF) {
			t.Errorf("%v is taken for a refusal", err)
		}
	}
	if As(Invalid, "day", nil) != nil {
		t.Error("nothing went wrong, and it is refused")
	}
}

func TestARefusalIsASentenceInItsField(t *testing.T) {
	inner := Errorf("%q is no day: write 30d", "30x")
	for _, c := range []struct {
		err         error
		field, says string
		kind        Kind
	}{
		{As(Invalid, "due", inner), "due", `"30x" is no day: write 30d.`, Invalid},
		{As(Invalid, "plan", Errorf("instalment 2: %w", inner)), "plan", `Instalment 2: "30x" is no day: write 30d.`, Invalid},
		{As(Conflict, "", fmt.Errorf("issue: %w", &Refusal{NotFound, "", "There is no such draft."})), "", "There is no such draft.",
			NotFound},
		{As(Invalid, "outer", &Refusal{Invalid, "inner", "Give a day."}), "inner", "Give a day.", Invalid},
	} {
		var r *Refusal
		if !errors.As(c.err, &r) || r.Field != c.field || r.Sentence != c.says || r.Kind != c.kind {
			t.Errorf("%+v, want %q in %q", c.err, c.says, c.field)
		}
	}
	if words := (&Refusal{Sentence: "a code has letters"}).Words(); words != "A code has letters." {
		t.Errorf("%q", words)
	}
}
