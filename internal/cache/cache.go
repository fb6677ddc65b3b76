// Package cache holds what can be computed or read again, within one budget of bytes for
// all of it: the least recently used leaves first, whatever it is.
package cache

import (
	"container/list"
	"sync"
)

// Cache holds values by key, each with its weight in bytes. Keys of different types never
// meet: give each kind of value a key type of its own.
type Cache struct {
	mutex   sync.Mutex
	budget  int64
	used    int64
	order   *list.List // the most recently used first
	entries map[any]*list.Element
}

// Of makes a cache of so many entries, whatever they weigh: put them with weight 0.
func Of(entries int) *Cache { return New(int64(entries) * overhead) }

type entry struct {
	key, value any
	weight     int64
}

// New makes a cache of a budget in bytes.
func New(budget int64) *Cache {
	return &Cache{budget: budget, order: list.New(), entries: map[any]*list.Element{}}
}

// overhead is what an entry weighs beside its value.
const overhead = 256

// Get gives what is held for a key.
func (c *Cache) Get(key any) (value any, held bool) {
	c.mutex.Lock()
	defer c.mutex.Unlock()
	element, held := c.entries[key]
	if !held {
		return nil, false
	}
	c.order.MoveToFront(element)
	return element.Value.(*entry).value, true
}

// Put holds a value, in place of what the key had, and lets go of others until all fits
// the budget. A value that is heavier than all of it is not held.
func (c *Cache) Put(key, value any, weight int64) {
	c.mutex.Lock()
	defer c.mutex.Unlock()
	if old, held := c.entries[key]; held {
		c.remove(old)
	}
	weight += overhead
	if weight > c.budget {
		return
	}
	c.entries[key] = c.order.PushFront(&entry{key, value, weight})
	c.used += weight
	for c.used > c.budget {
		c.remove(c.order.Back())
	}
}

// Drop lets go of the keys for which gone holds.
func (c *Cache) Drop(gone func(key any) bool) {
	c.mutex.Lock()
	defer c.mutex.Unlock()
	for key, element := range c.entries {
		if gone(key) {
			c.remove(element)
		}
	}
}

func (c *Cache) remove(element *list.Element) {
	held := c.order.Remove(element).(*entry)
	delete(c.entries, held.key)
	c.used -= held.weight
}

// Used is the weight of all that is held.
func (c *Cache) Used() int64 {
	c.mutex.Lock()
	defer c.mutex.Unlock()
	return c.used
}
