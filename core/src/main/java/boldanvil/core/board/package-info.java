/**
 * Boards and what follows from a patch. {@link boldanvil.core.board.Board} is read from an open file: pins, peripheral
 * channels, clock, resolutions. {@link boldanvil.core.board.PatchCheck} finds conflicts; {@link boldanvil.core.board.Channel
 * channel numbers} such as counts per unit or the real switching frequency come from {@link boldanvil.core.board.PinMath},
 * which simulation, generated code and the stand-in all use, so that they quantise alike.
 */
package boldanvil.core.board;
