/**
 * Devices by ASAM MCD-1 XCP on TCP: {@link boldanvil.core.link.xcp.Xcp} holds the numbers of the protocol that are in use,
 * {@link boldanvil.core.link.xcp.XcpClient} measures and tunes, {@link boldanvil.core.link.xcp.XcpProgrammer} puts images on devices, and
 * {@link boldanvil.core.link.xcp.XcpProtocol} offers both as links.
 */
package boldanvil.core.link.xcp;
