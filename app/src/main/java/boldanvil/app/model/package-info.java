/**
 * View-models: what the window shows, as plain Java that can be tested without one. {@link boldanvil.app.model.Workspace}
 * holds the open project with its history and findings, {@link boldanvil.app.model.RigSession} the rig that runs,
 * {@link boldanvil.core.sheet.SheetScene} a sheet as nodes and ports. Nothing here imports JavaFX.
 */
package boldanvil.app.model;
