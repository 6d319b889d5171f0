package money

import "dorvet/core/refusal"

// Currency is an ISO 4217 alphabetic code, such as "EUR".
type Currency string

// The decimals of every active ISO 4217 currency that has not two of them.
// Source: ISO 4217 table A.1, column "minor unit".
var decimals = map[Currency]int{
	"BHD": 3, "IQD": 3, "JOD": 3, "KWD": 3, "LYD": 3, "OMR": 3, "TND": 3,
	"CLF": 4, "UYW": 4,
	"BIF": 0, "CLP": 0, "DJF": 0, "GNF": 0, "ISK": 0, "JPY": 0, "KMF": 0, "KRW": 0,
	"PYG": 0, "RWF": 0, "UGX": 0, "UYI": 0, "VND": 0, "VUV": 0, "XAF": 0, "XOF": 0, "XPF": 0,
}

// The active ISO 4217 currencies with two decimals.
var twoDecimals = "AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BMD BND BOB BOV BRL BSD BTN BWP BYN BZD " +
	"CAD CDF CHE CHF CHW CNY COP COU CRC CUP CVE CZK DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD " +
	"GTQ GYD HKD HNL HTG HUF IDR ILS INR IRR JMD KES KGS KHR KPW KYD KZT LAK LBP LKR LRD LSL MAD MDL MGA MKD " +
	"MMK MNT MOP MRU MUR MVR MWK MXN MXV MYR MZN NAD NGN NIO NOK NPR NZD PAB PEN PGK PHP PKR PLN QAR RON RSD " +
	"RUB SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TOP TRY TTD TWD TZS UAH USD " +
	"USN UYU UZS VED VES WST XCD YER ZAR ZMW ZWG"

func init() {
	for i := 0; i+3 <= len(twoDecimals); i += 4 {
		decimals[Currency(twoDecimals[i:i+3])] = 2
	}
}

// Decimals is the number of decimals of the currency, 0 to 4.
// It is an error if c is not an active ISO 4217 code.
func (c Currency) Decimals() (int, error) {
	d, ok := decimals[c]
	if !ok {
		return 0, refusal.Errorf("%q is not a currency: give an ISO 4217 code such as EUR", string(c))
	}
	return d, nil
}

// UnusualDecimals lists the currencies that have other than two decimals.
func UnusualDecimals() map[Currency]int {
	unusual := map[Currency]int{}
	for code, d := range decimals {
		if d != 2 {
			unusual[code] = d
		}
	}
	return unusual
}

// scale is the number of minor units in one unit: 100 for EUR.
func (c Currency) scale() (int64, error) {
	d, err := c.Decimals()
	return pow10(d), err
}

func pow10(n int) int64 {
	p := int64(1)
	for range n {
		p *= 10
	}
	return p
}
