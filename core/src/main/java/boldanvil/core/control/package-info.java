/**
 * The channel to the bench process: {@link boldanvil.core.control.ControlClient} loads, starts and stops rigs through lines of JSON,
 * {@link boldanvil.core.control.DeviceRegistry} finds the processes of this machine, and {@link boldanvil.core.control.BenchHost} is the
 * service by which the module with the stand-ins offers its process.
 */
package boldanvil.core.control;
