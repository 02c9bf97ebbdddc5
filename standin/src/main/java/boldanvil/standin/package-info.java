/**
 * The bench process: a separate process in which compiled code runs, so that whatever it does cannot hurt the window. It
 * holds one {@link boldanvil.standin.BenchSession}: models as Java classes, code through the foreign-function interface,
 * stand-ins of boards with their registers, all under the conductor of {@code core}. It is measured and tuned over XCP
 * ({@link boldanvil.standin.XcpServer}) and directed by lines of JSON ({@link boldanvil.standin.ControlServer}); both listen
 * on loopback only.
 */
package boldanvil.standin;
