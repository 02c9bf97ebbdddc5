/**
 * Boards and what follows from a patch. {@link boldanvil.core.board.Board} is read from an open file; a
 * {@link boldanvil.core.board.BoardSetup} is a board set up for one part: clocks solved ({@link boldanvil.core.board.ClockSetting}), a
 * {@link boldanvil.core.board.Channel} for each terminal, and its settings, which all come from {@link boldanvil.core.board.PinMath}.
 * {@link boldanvil.core.board.PinModel} is what hardware does between a wire and a register, the same for simulation and stand-in.
 * {@link boldanvil.core.board.PatchCheck} finds conflicts and ways out, {@link boldanvil.core.board.AutoPatch} places,
 * {@link boldanvil.core.board.PinSwap} and {@link boldanvil.core.board.BoardChange} plan moves; patches themselves are immutable.
 */
package boldanvil.core.board;
