/**
 * How much of a program ran: {@link boldanvil.core.coverage.Instrumenter} adds to a program what notes the outcomes of its decisions, the
 * values of their conditions and the entries of its tables; {@link boldanvil.core.coverage.Coverage} is what was noted, by block. The
 * program computes the same values with it.
 */
package boldanvil.core.coverage;
