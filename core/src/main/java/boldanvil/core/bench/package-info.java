/**
 * Running a rig and driving it live. {@link boldanvil.core.bench.RigStarter} takes a project and a rig through its steps,
 * check, build, download, verify (by {@link boldanvil.core.bench.Deployer}), and hands out a {@link boldanvil.core.bench.LiveRun}, which
 * looks the same whether the parts are models in this process ({@link boldanvil.core.bench.DeskRun}) or run in a bench process
 * ({@link boldanvil.core.bench.BenchRun}), which may keep running without it and be connected again. {@link boldanvil.core.bench.Values}
 * compares tunables between project, build and device; {@link boldanvil.core.bench.ValueFiles} reads and writes sets of them; {@link
 * boldanvil.core.bench.Health} holds the load and the losses of a run.
 */
package boldanvil.core.bench;
