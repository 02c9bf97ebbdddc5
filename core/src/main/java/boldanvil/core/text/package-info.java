/**
 * Structured Text and sequential function charts after IEC 61131-3:2013: parsed, checked with line and column, and turned into
 * statements of the IR. Function blocks of the standard come from a library written in the same language.
 */
package boldanvil.core.text;
