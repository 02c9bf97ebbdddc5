/**
 * Trials: scripts of steps, faults and expectations. {@link boldanvil.core.trial.TrialReader} reads their text,
 * {@link boldanvil.core.trial.TrialPlan} resolves it against a rig, and {@link boldanvil.core.trial.Performance} plays it tick by tick
 *     where the rig runs, so that a verdict is exact to a tick and the same for models, code and devices. Nothing here starts a rig.
 */
package boldanvil.core.trial;
