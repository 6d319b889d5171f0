package e2e

import (
	"os"
	"path/filepath"
	"testing"
)

func TestZzLook(t *testing.T) {
	p := open(t)
	p.size(1280, 800)
	p.signIn("administrator")
	p.goTo("/billing/"+os.Getenv("INV"))
	p.until(`document.querySelector("[aria-label^='As the client']")`)
	p.still()
	p.picture(filepath.Join(os.Getenv("SOME"), "preview.png"))
	p.size(1024, 800)
	p.still()
	p.picture(filepath.Join(os.Getenv("SOME"), "preview1024.png"))
}
