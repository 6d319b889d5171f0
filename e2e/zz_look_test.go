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
	p.goTo("/set-up/pictures?new=yes")
	p.typeIn("Name", "Waves\r")
	p.until(`document.querySelector("input[type=file]")`)
	p.upload("/tmp/wave.png")
	p.until(`document.querySelector("img[alt=Waves]")`)
	p.still()
	p.picture(filepath.Join(os.Getenv("SOME"), "pic1.png"))
	p.goTo("/set-up/look?head_picture=Waves&head_lines=Forty+years+of+soundings")
	p.still()
	p.picture(filepath.Join(os.Getenv("SOME"), "pic2.png"))
	p.goTo("/billing/256?pane=look")
	p.choose("Picture above the lines", "Waves")
	p.still()
	p.picture(filepath.Join(os.Getenv("SOME"), "pic3.png"))
}
