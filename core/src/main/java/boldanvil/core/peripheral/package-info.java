/**
 * Peripherals: one {@link boldanvil.core.peripheral.Peripheral} for each kind of terminal holds its channels on a board, checks, figures,
 * the model of its hardware, the registers of a stand-in and the C of the program's side; {@link boldanvil.core.peripheral.Peripherals}
 * lists them. A {@link boldanvil.core.peripheral.BoardSetup} is a board set up for one part. Boards, patches and programs come in; what
 * fits where is decided in {@code patch}, and files are put together in {@code build}.
 */
package boldanvil.core.peripheral;
