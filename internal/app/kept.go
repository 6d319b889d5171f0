package app

import (
	"cmp"
	"maps"
	"slices"
	"strings"
	"sync"

	"dorvet/internal/store"
)

// Kept is what was computed of each client, by what it is and who may see it, until something of the client is
// written. It is in memory alone.
type Kept struct {
	lock  sync.Mutex
	sets  map[string]map[string]*keptSet // of each thing that is computed
	clock int64
	once  map[string]map[int64]any
}

// mostOnce is how many things of one kind that never change are kept.
const mostOnce = 200_000

// Once gives what is made of rows that never change, by their numbers: as it was made before, and of the others as make
// says.
func Once[T any](a *App, what string, ids []int64, make func(ids []int64) (map[int64]T, error)) (map[int64]T, error) {
	if a.Kept == nil {
		return make(ids)
	}
	found, missing := map[int64]T{}, []int64{}
	a.Kept.lock.Lock()
	for _, id := range ids {
		if kept, is := a.Kept.once[what][id]; is {
			found[id] = kept.(T)
		} else {
			missing = append(missing, id)
		}
	}
	a.Kept.lock.Unlock()
	made, err := make(missing)
	if err != nil {
		return nil, err
	}
	a.Kept.lock.Lock()
	defer a.Kept.lock.Unlock()
	if a.Kept.once == nil {
		a.Kept.once = map[string]map[int64]any{}
	}
	if a.Kept.once[what] == nil || len(a.Kept.once[what])+len(made) > mostOnce {
		a.Kept.once[what] = map[int64]any{}
	}
	for id, one := range made {
		found[id], a.Kept.once[what][id] = one, one
	}
	return found, nil
}

// keptSet is one value of each client that has one. Whoever computes holds its lock, so that others who ask meanwhile
// wait for the same answer.
type keptSet struct {
	lock   sync.Mutex
	used   int64           // by the clock of Kept
	counts map[int64]int64 // of the clients, when their values were computed
	values any             // map[int64]*T
}

// keptSets is how many are kept of one thing: of those who are not limited, the days that are looked at.
const keptSets = 8

// set finds a set, and forgets the one of the same thing that was not asked for the longest where there are too many.
func (k *Kept) set(what, of string) *keptSet {
	k.lock.Lock()
	defer k.lock.Unlock()
	if k.sets == nil {
		k.sets = map[string]map[string]*keptSet{}
	}
	if k.sets[what] == nil {
		k.sets[what] = map[string]*keptSet{}
	}
	k.clock++
	sets := k.sets[what]
	if sets[of] == nil {
		sets[of] = new(keptSet)
	}
	sets[of].used = k.clock
	if len(sets) > keptSets {
		oldest := of
		for other, set := range sets {
			if set.used < sets[oldest].used {
				oldest = other
			}
		}
		delete(sets, oldest)
	}
	return sets[of]
}

// PerClient gives what compute says of each client that has it: as computed before, and computed anew of those of whom
// something was written since. What names it, and of tells what else it depends on, such as the day. compute is asked for some
// clients or, with nil, for all; it gives the same of a client whoever else is asked for, and reads no table that
// the store does not follow (changes.go there). The values belong to everybody: nobody changes them.
func PerClient[T any](a *App, tx *store.DB, what, of string, compute func(clientIDs []int64) (map[int64]*T, error)) (map[int64]*T, error) {
	if a.Kept == nil {
		return compute(nil)
	}
	s := a.Kept.set(what, of+" "+tx.Scope().Key())
	s.lock.Lock()
	defer s.lock.Unlock()
	// The counts are read before what they count: what is written in between is computed once too often, never too rarely.
	counts, err := store.ClientChanges(tx)
	if err != nil {
		return nil, err
	}
	known, is := s.values.(map[int64]*T)
	if !is || counts[0] != s.counts[0] {
		return keep(s, counts, nil, nil, compute)
	}
	changed := []int64{}
	for client, count := range counts {
		if s.counts[client] != count {
			changed = append(changed, client)
		}
	}
	if len(changed) == 0 {
		return maps.Clone(known), nil
	}
	if len(changed) > len(counts)/2+few {
		changed = nil
	}
	return keep(s, counts, known, changed, compute)
}

// few are so many clients that they are computed by themselves even where there are few in all.
const few = 50

func keep[T any](s *keptSet, counts map[int64]int64, known map[int64]*T, clientIDs []int64,
	compute func([]int64) (map[int64]*T, error)) (map[int64]*T, error) {
	fresh, err := compute(clientIDs)
	if err != nil {
		return nil, err
	}
	if clientIDs == nil {
		known = map[int64]*T{}
	}
	for _, id := range clientIDs {
		delete(known, id)
	}
	maps.Copy(known, fresh)
	s.values, s.counts = known, counts
	return maps.Clone(known), nil
}

// ByClient puts rows to their clients.
func ByClient[T any](rows []T, client func(*T) int64) map[int64]*[]T {
	byClient := map[int64]*[]T{}
	for i := range rows {
		id := client(&rows[i])
		if byClient[id] == nil {
			byClient[id] = new([]T)
		}
		*byClient[id] = append(*byClient[id], rows[i])
	}
	return byClient
}

// Joined are the rows of all clients, in the order of the clients' names; those of one client as they were computed.
func Joined[T any](byClient map[int64]*[]T, client func(*T) string) []T {
	type of struct {
		name string
		id   int64
	}
	clients, size := make([]of, 0, len(byClient)), 0
	for id, rows := range byClient {
		clients, size = append(clients, of{client(&(*rows)[0]), id}), size+len(*rows)
	}
	slices.SortFunc(clients, func(a, b of) int { return cmp.Or(strings.Compare(a.name, b.name), cmp.Compare(a.id, b.id)) })
	all := make([]T, 0, size)
	for _, c := range clients {
		all = append(all, *byClient[c.id]...)
	}
	return all
}
