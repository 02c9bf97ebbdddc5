/**
 * A part as files for other people and tools: every {@link boldanvil.core.export.Exporter} is offered by the command line and by the Build
 * page.
 */
package boldanvil.core.export;
