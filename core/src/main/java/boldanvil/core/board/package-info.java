/**
 * Boards as their files describe them: {@link boldanvil.core.board.Board}, read and checked by {@code BoardReader}, and clock trees with
 * the search for their settings ({@link boldanvil.core.board.ClockSetting}). What peripherals make of a board is in {@code peripheral}.
 */
package boldanvil.core.board;
