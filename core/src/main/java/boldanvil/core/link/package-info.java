/**
 * How this process talks to devices and to the bench process. {@link boldanvil.core.link.Xcp} holds the numbers of the ASAM
 * XCP protocol on TCP that are in use, {@link boldanvil.core.link.XcpClient} measures and tunes with it,
 * {@link boldanvil.core.link.XcpProgrammer} puts images on devices, {@link boldanvil.core.link.ControlClient} starts, stops and loads
 * through lines of JSON, {@link boldanvil.core.link.DeviceRegistry} finds what runs on this machine. Every wait has a limit; a lost
 * peer becomes a finding.
 */
package boldanvil.core.link;
