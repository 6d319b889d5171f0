package apptest

import (
	"os"
	"os/exec"
)

// Demo is the folder of a demo firm, to be copied: the one that DORVET_DEMO names, which
// make test makes once for all tests, else one that is made in a folder.
func Demo(folder string, seed func(folder string) error) (string, error) {
	if made := os.Getenv("DORVET_DEMO"); made != "" {
		return made, nil
	}
	return folder, seed(folder)
}

// Program is the program that DORVET_PROGRAM names, which was just built, else one that is
// built from a folder of the source.
func Program(source, path string) (string, error) {
	if built := os.Getenv("DORVET_PROGRAM"); built != "" {
		return built, nil
	}
	build := exec.Command("go", "build", "-o", path, source)
	build.Stderr = os.Stderr
	return path, build.Run()
}
