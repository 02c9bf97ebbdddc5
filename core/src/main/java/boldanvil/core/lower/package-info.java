/**
 * From diagram to program. A part's sheets are flattened ({@link boldanvil.core.lower.Flattener}), get their sample times,
 * parameters and types ({@link boldanvil.core.lower.Resolver}), are put in order ({@link boldanvil.core.lower.Sorter}) and
 * emitted as IR ({@link boldanvil.core.lower.ProgramWriter}). Whatever is wrong on the way becomes a finding; a part with an
 * error has no program. {@link boldanvil.core.lower.LoweredSystem} does this for all parts and joins their ports.
 */
package boldanvil.core.lower;
