package boldanvil.core.text;

import java.util.Locale;
import java.util.Set;

/** Words that are not free as names of variables. */
public final class ReservedWords {
    /** Words of the standard that the grammar has no use for, and short forms that tools of others refuse. */
    private static final Set<String> OTHERS = Set.of("ABSTRACT", "CLASS", "END_CLASS", "EXTENDS", "FINAL", "IMPLEMENTS", "INTERFACE",
            "END_INTERFACE", "INTERNAL", "NAMESPACE", "END_NAMESPACE", "NULL", "OVERLAP", "OVERRIDE", "PRIVATE", "PROTECTED", "PUBLIC",
                    "REF",
            "REF_TO", "SUPER", "THIS", "USING", "VAR_ACCESS", "VAR_CONFIG", "READ_ONLY", "READ_WRITE", "INTERVAL", "SINGLE", "EN", "ENO",
            "STRING", "WSTRING", "CHAR", "WCHAR", "LINT", "ULINT", "LWORD", "LTIME", "LDATE", "LTOD", "LDT", "DATE_AND_TIME", "TIME_OF_DAY",
            "SCAN_TIME", "CYCLE_TIME", "FIRST_SCAN", "LD", "ST", "S", "R", "T", "D", "CAL", "JMP", "RET", "ANY", "ANY_NUM");

    private ReservedWords() {}

    public static boolean contains(String name) {
        String upper = name.toUpperCase(Locale.ROOT);
        return OTHERS.contains(upper) || TextType.named(upper) != null || StandardFunctions.isKnown(upper)
                || Compilation.standardBlocks().containsKey(upper) || TextEditing.isKeyword(upper);
    }
}
