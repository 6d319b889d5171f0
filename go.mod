module dorvet

go 1.26.0

require (
	github.com/cockroachdb/apd/v3 v3.2.3
	golang.org/x/text v0.43.0
)

require github.com/teambition/rrule-go v1.8.2 // indirect
