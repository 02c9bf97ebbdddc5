/**
 * One function for each language that texts of a project are written into, so that a name or a title stays a text there, whatever it holds.
 * Texts come in, texts go out; nothing else lives here.
 */
package boldanvil.core.escape;
