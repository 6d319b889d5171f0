package registry

import (
	"strings"

	"dorvet/core/refusal"
	"dorvet/internal/store"
)

// names are those of the records of one kind that were asked for. A sheet names a few of a firm's ten thousand
// engagements, a list many: a few are read one by one, and all together when more are asked for.
type names struct {
	byID   map[int64]store.Name
	ids    map[string]int64 // by key, in small letters
	titles map[string][]int64
	whole  bool // all are there
}

// onlyFew is how many names are read one by one, which takes about as long as all of ten thousand.
const onlyFew = 300

func (n *names) add(read []store.Name) {
	for _, name := range read {
		n.byID[name.ID] = name
		n.ids[strings.ToLower(name.Key)] = name.ID
		title := strings.ToLower(name.Title)
		n.titles[title] = append(n.titles[title], name.ID)
	}
}

func (e *Env) namesOf(of string) *names {
	if e.names[of] == nil {
		e.names[of] = &names{byID: map[int64]store.Name{}, ids: map[string]int64{}, titles: map[string][]int64{}}
	}
	return e.names[of]
}

// readNamesOf reads the names of records of a list, together.
func (e *Env) readNamesOf(of string, records []Record) error {
	ids := make([]int64, len(records))
	for i, r := range records {
		ids[i] = r.head().ID
	}
	if n := e.namesOf(of); n.whole || len(ids) == 0 {
		return nil
	}
	read, err := store.Names(e.Tx, of, kinds[of].describe().Retires, ids...)
	e.namesOf(of).add(read)
	return err
}

// allNames are the names of all records of a kind.
func (e *Env) allNames(of string) (*names, error) {
	if n := e.namesOf(of); n.whole {
		return n, nil
	}
	read, err := store.Names(e.Tx, of, kinds[of].describe().Retires)
	if err != nil {
		return nil, err
	}
	delete(e.names, of)
	n := e.namesOf(of)
	n.add(read)
	n.whole = true
	return n, nil
}

// NameOf is how a record of a kind is named; none, if there is no such record.
func (e *Env) NameOf(of string, id int64) (store.Name, error) {
	n := e.namesOf(of)
	if name, is := n.byID[id]; is || n.whole {
		return name, nil
	}
	if len(n.byID) >= onlyFew {
		all, err := e.allNames(of)
		if err != nil {
			return store.Name{}, err
		}
		return all.byID[id], nil
	}
	read, err := store.Names(e.Tx, of, kinds[of].describe().Retires, id)
	n.add(read)
	return n.byID[id], err
}

// nameMade is how a record is named that was just made: the next may name it.
func (e *Env) nameMade(of string, id int64) (store.Name, error) {
	read, err := store.Names(e.Tx, of, kinds[of].describe().Retires, id)
	if err != nil || len(read) == 0 {
		return store.Name{}, err
	}
	e.namesOf(of).add(read)
	return read[0], nil
}

// KeyOf is how a record of a kind is named by others.
func (e *Env) KeyOf(of string, id int64) (string, error) {
	name, err := e.NameOf(of, id)
	return name.Key, err
}

// titleOf is the title of the record that a key means.
func (e *Env) titleOf(of, key string) (string, error) {
	said := strings.ToLower(key)
	if n := e.namesOf(of); n.ids[said] != 0 { // its key was read from its number
		return n.byID[n.ids[said]].Title, nil
	}
	n, err := e.allNames(of)
	if err != nil {
		return "", err
	}
	return n.byID[n.ids[said]].Title, nil
}

// Taken reports whether a record of a kind has a key, in whatever case.
func (e *Env) Taken(of, key string) (bool, error) {
	n, err := e.allNames(of)
	if err != nil {
		return false, err
	}
	_, taken := n.ids[strings.ToLower(key)]
	return taken, nil
}

// Find is the number of the record that a key or a name means.
func (e *Env) Find(of, text string) (int64, error) {
	n, err := e.allNames(of)
	if err != nil {
		return 0, err
	}
	said := strings.ToLower(strings.TrimSpace(text))
	if id, found := n.ids[said]; found {
		return id, nil
	}
	describe := kinds[of].describe()
	switch named := n.titles[said]; len(named) {
	case 0:
		return 0, refusal.Errorf("there is no %s %q: choose one that is there, or make it first", describe.One, text)
	case 1:
		return named[0], nil
	default:
		return 0, refusal.Errorf("%d %s are called %q: give the code in place of the name", len(named), describe.Many, text)
	}
}
