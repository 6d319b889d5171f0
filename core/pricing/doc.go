// Package pricing computes what a proposal comes to: services down, one to five
// tiers across, and every bill that a tier would make, with its date.
//
// A [Line] is priced at a fixed price, per unit, by the hour, in graduated bands
// or when it is billed; a [Rule] says when. From lines and rules come charges,
// from charges of one day a bill, computed as its invoice would be, and from
// bills every total: a total is the sum of the bills that it explains itself by.
//
//	first 10 at 40, next 40 at 35, rest at 30; 60 units: 400 + 1,400 + 300 = 2,100
//	300.00 a month from 10 to 30 September: 21 of 30 days, 210.00
//	31 Jan, 28 Feb, 31 Mar, 30 Apr: an anchor never drifts
//
// Source of the rules: the trade's common practice; recurrence agrees with RFC
// 5545 where no month is too short, and clamps to its last day where one is.
package pricing
