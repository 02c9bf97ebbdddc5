/**
 * Runs trials on rigs and keeps what proves their verdicts: what came of each step, the courses of the signals around it, and what made the
 * run. Gives that as reports for people and for build servers. What a trial is, and how it is played, is said in
 * {@link boldanvil.core.trial}.
 */
package boldanvil.core.evidence;
