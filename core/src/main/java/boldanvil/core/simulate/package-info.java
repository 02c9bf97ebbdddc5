/**
 * Runs the parts of a rig together on one virtual clock. The {@link boldanvil.core.simulate.Conductor} knows instances, not
 * what is behind them, so the same schedule serves models, compiled code and stand-ins: in each tick all parts
 * {@code sample}, values move along the wires, all parts {@code step}, values move again, all parts {@code advance}.
 * {@link boldanvil.core.simulate.RunLoop} keeps pace with the wall clock or goes as fast as it can. A
 * {@link boldanvil.core.simulate.Stimulus} drives a tunable and a {@link boldanvil.core.simulate.Guard} ends a run, both tick by tick.
 */
package boldanvil.core.simulate;
