package documents

import (
	"bytes"
	"fmt"
	"io"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
)

func init() { api.DisableConfigDir() } // nothing is written beside the data

// Gathered puts PDFs and pictures (PNG, JPEG) into one PDF, in their order, each picture on a page of its own. What can't be read is an
// error that says which it is.
func Gathered(w io.Writer, files [][]byte) (err error) {
	at := 0
	defer func() { // files come from people, and what reads them may not expect all that is in one
		if broken := recover(); broken != nil {
			err = fmt.Errorf("read file %d: %v", at+1, broken)
		}
	}()
	parts := []io.ReadSeeker{}
	for i, content := range files {
		at = i
		if bytes.HasPrefix(content, []byte("%PDF")) {
			if err := api.Validate(bytes.NewReader(content), relaxed()); err != nil {
				return fmt.Errorf("read file %d: %w", i+1, err)
			}
			parts = append(parts, bytes.NewReader(content))
			continue
		}
		page := new(bytes.Buffer)
		if err := api.ImportImages(nil, page, []io.Reader{bytes.NewReader(content)}, nil, relaxed()); err != nil {
			return fmt.Errorf("read picture %d: %w", i+1, err)
		}
		parts = append(parts, bytes.NewReader(page.Bytes()))
	}
	if len(parts) == 0 {
		return fmt.Errorf("there is no file to gather")
	}
	if len(parts) == 1 {
		_, err := io.Copy(w, parts[0])
		return err
	}
	return api.MergeRaw(parts, w, false, relaxed())
}

// relaxed reads what most programs do, and asks nobody.
func relaxed() *model.Configuration {
	c := model.NewDefaultConfiguration()
	c.ValidationMode, c.Offline = model.ValidationRelaxed, true
	return c
}
