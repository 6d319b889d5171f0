package documents

import "github.com/skip2/go-qrcode"

// Code is the picture (PNG) of the code to pay by, as a page shows it: ISO/IEC 18004 with error correction M, as EPC069-12 asks for.
func Code(text string) ([]byte, error) {
	code, err := qrcode.New(text, qrcode.Medium)
	if err != nil {
		return nil, err
	}
	code.DisableBorder = true
	return code.PNG(-4) // four pixels a module
}
