package timekeeping

import (
	"maps"
	"regexp"
	"strconv"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// What an entry says beside its time: its text, the days that it spans, the firm's own fields.

// beside keeps what an entry says beside its time.
func beside(tx *store.DB, firm *store.Firm, entry *store.TimeEntry, in TypedEntry, before *store.TimeEntry) (err error) {
	if entry.Text, err = expanded(tx, in.Text); err != nil {
		return err
	}
	if entry.UntilDay, err = untilOf(in); err != nil {
		return err
	}
	entry.Own, err = ownOf(tx, firm, in, before)
	return err
}

// mostDays is how long an entry may go on.
const mostDays = 366

// word is what an abbreviation can be.
var word = regexp.MustCompile(`[\pL\pN]+`)

// expanded puts the texts of abbreviations in place of words that are one, as they are
// written.
func expanded(tx *store.DB, text string) (string, error) {
	if text == "" {
		return "", nil
	}
	rows, err := store.All[store.Abbreviation](tx, "id")
	if err != nil || len(rows) == 0 {
		return text, err
	}
	of := map[string]string{}
	for _, a := range rows {
		if a.Active {
			of[a.Short] = a.Text
		}
	}
	return word.ReplaceAllStringFunc(text, func(short string) string {
		if long, is := of[short]; is {
			return long
		}
		return short
	}), nil
}

// untilOf is the last day of an entry that spans several.
func untilOf(in TypedEntry) (day.Day, error) {
	switch {
	case in.Until.IsZero() || in.Until == in.Day:
		return 0, nil
	case in.Until < in.Day:
		return 0, app.RefuseField("until", "%s is before %s, when it began: give a later day, or none.", in.Until.Long(), in.Day.Long())
	case in.Until > in.Day.AddDays(mostDays):
		return 0, app.RefuseField("until", "%s is more than a year after %s: record it in parts.", in.Until.Long(), in.Day.Long())
	case in.Started != "" || in.Ended != "":
		return 0, app.RefuseField("until", "From one time of day to another is one day: leave out the times, or the last day.")
	}
	return in.Until, nil
}

// ownOf reads the firm's own fields of an entry; what is not given stays as it was.
func ownOf(tx *store.DB, firm *store.Firm, in TypedEntry, before *store.TimeEntry) (map[string]string, error) {
	own := map[string]string{}
	if before != nil {
		maps.Copy(own, before.Own)
	}
	if len(in.Own) == 0 {
		return own, nil
	}
	fields, err := store.OwnFields(tx, "entry")
	for _, f := range fields {
		typed, given := in.Own[f.Name]
		if !given {
			continue
		}
		value, err := registry.ParseOwn(f, firm.Mark(), in.Day, typed)
		if err != nil {
			return nil, app.InField("own."+f.Name, err)
		}
		key := strconv.FormatInt(f.ID, 10)
		if own[key] = value; value == "" {
			delete(own, key)
		}
	}
	return own, err
}

// treatedFor is how time is billed that its recorder may not say it of: as it was, else as
// the engagement and the phase are.
func treatedFor(tx *store.DB, in TypedEntry, before *store.TimeEntry) (wip.Treatment, error) {
	if before != nil && sameSubject(before, in) {
		return before.Treatment, nil
	}
	e, err := store.Get[store.Engagement](tx, in.EngagementID)
	if err != nil {
		return "", app.Missing(err, "engagement")
	}
	billable := e.Billable
	if billable && in.PhaseID != 0 {
		phase, err := store.Get[store.Phase](tx, in.PhaseID)
		if err != nil {
			return "", app.Missing(err, "phase")
		}
		billable = phase.Billable
	}
	if !billable {
		return wip.NotBillable, nil
	}
	return wip.Billable, nil
}
