package postgres

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

// OwnerURL is the address of a database of a throw-away cluster, as the cluster's owner, who may do everything.
func (c *Cluster) OwnerURL(database string) string { return c.url(owner, c.secret, database) }
