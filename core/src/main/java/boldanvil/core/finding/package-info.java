/**
 * Errors and warnings for the user. Every other package reports through {@link boldanvil.core.finding.Finding}:
 * a place, a cause and a cure. Nothing else lives here and this package depends on nothing.
 */
package boldanvil.core.finding;
