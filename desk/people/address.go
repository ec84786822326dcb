package people

// ServeAt says at which address people reach this server, as http://host:port.
func (d *Desk) ServeAt(address string) { d.address.Store(&address) }

// Address is where people reach this server; empty until it is known.
func (d *Desk) Address() string {
	if a := d.address.Load(); a != nil {
		return *a
	}
	return ""
}
