/**
 * A part in the languages of IEC 61131-3: Structured Text from the IR, and exchange files of PLCopen with its charts and texts. What comes
 * in goes through {@link boldanvil.core.text}; nothing here knows a device.
 */
package boldanvil.core.iec;
