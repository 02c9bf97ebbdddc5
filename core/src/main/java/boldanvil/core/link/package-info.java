/**
 * The connection to devices: a {@link boldanvil.core.link.DeviceLink} identifies, deploys, reads, writes, subscribes and stops, whatever
 * protocol carries it; a {@link boldanvil.core.link.LinkProtocol} is found by the name in its {@link boldanvil.core.link.Endpoint} and has
 * a package of its own. Every wait has a limit; a lost peer becomes a finding.
 */
package boldanvil.core.link;
