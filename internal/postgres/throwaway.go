package postgres

import "strconv"

// fast are settings for a cluster that nobody will miss.
var fast = []string{"fsync=off", "full_page_writes=off", "synchronous_commit=off", "max_connections=200"}

const testSecret = "throw-away"

// StartThrowaway starts a cluster for tests in an empty folder.
func StartThrowaway(folder string) (*Cluster, error) {
	c, err := at(folder, testSecret)
	if err != nil {
		return nil, err
	}
	c.throwaway, c.settings = true, fast
	if err := c.begin(); err != nil {
		return nil, err
	}
	return c, c.Prepare("ready")
}

// AttachThrowaway gives the running throw-away cluster of a folder, or nil.
func AttachThrowaway(folder string) *Cluster { return Attach(folder, testSecret) }

// CopyDatabase makes a database that is a copy of another one, to which nobody is connected.
func (c *Cluster) CopyDatabase(name, from string) error {
	return c.run("createdb", "-h", "127.0.0.1", "-p", strconv.Itoa(c.port), "-U", owner, "-O", role, "-T", from, name)
}

// OwnerURL is the address of a database of a throw-away cluster, as the cluster's owner, who may do everything.
func (c *Cluster) OwnerURL(database string) string { return c.url(owner, c.secret, database) }
