/**
 * The bench process: a separate process in which compiled code runs, so that whatever it does cannot hurt the window. It
 * holds one {@link boldanvil.standin.BenchSession}: models as Java classes, code through the foreign-function interface,
 * stand-ins of boards with their registers ({@link boldanvil.standin.Device}) and a processor that takes its time
 * ({@link boldanvil.standin.Processor}), images for other processors on an emulator ({@link boldanvil.standin.EmulatedInstance}), all under
 * the conductor of {@code core}. Images come in through each device's boot loader ({@link boldanvil.standin.BootServer}). It is measured
 * and tuned over XCP ({@link boldanvil.standin.XcpServer}) and directed by lines of JSON ({@link boldanvil.standin.ControlServer}); both
 * listen on loopback only.
 */
package boldanvil.standin;
