package cache

import "testing"

func TestTheLeastUsedLeavesFirst(t *testing.T) {
	type number int
	c := New(10 * (overhead + 100))
	for i := range 10 {
		c.Put(number(i), i, 100)
	}
	c.Get(number(0))
	c.Put("another kind", 1, 150)
	if _, held := c.Get(number(1)); held {
		t.Error("what was used longest ago is still held")
	}
	if value, held := c.Get(number(0)); !held || value != 0 {
		t.Errorf("what was just used is %v, %v", value, held)
	}
	c.Put("too heavy", 1, 11*(overhead+100))
	if _, held := c.Get("too heavy"); held {
		t.Error("one value took more than there is")
	}
	c.Put(number(0), 5, 400) // in place of the old
	if value, _ := c.Get(number(0)); value != 5 || c.Used() > 10*(overhead+100) {
		t.Errorf("%v, %d used", value, c.Used())
	}
	c.Put("heavy", 1, 8*(overhead+100)) // several must leave for it
	if c.Used() > 10*(overhead+100) || c.order.Len() < 1 {
		t.Errorf("beyond the budget: %d used by %d", c.Used(), c.order.Len())
	}
	c.Drop(func(any) bool { return true })
	if c.Used() != 0 || c.order.Len() != 0 {
		t.Errorf("empty, and %d used", c.Used())
	}
}
