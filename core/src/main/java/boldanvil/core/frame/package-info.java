/**
 * How values lie in bytes on a line: packets of a serial port, registers of a device on a bus, messages of a CAN bus. A
 * {@link boldanvil.core.frame.Codec} packs and unpacks; texts of blocks and DBC files come in, {@link boldanvil.core.frame.FrameException}
 * says what is wrong with them. Nothing here knows ports or clocks.
 */
package boldanvil.core.frame;
