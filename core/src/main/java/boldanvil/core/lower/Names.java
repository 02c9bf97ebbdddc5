package boldanvil.core.lower;

import java.util.HashSet;
import java.util.Locale;
import java.util.Set;

/** Makes identifiers of the names on a sheet. */
public final class Names {
    private static final Set<String> RESERVED = Set.of("auto", "break", "case", "char", "const", "continue", "default", "do",
            "double", "else", "enum", "extern", "float", "for", "goto", "if", "inline", "int", "long", "register", "restrict",
            "return", "short", "signed", "sizeof", "static", "struct", "switch", "typedef", "union", "unsigned", "void",
            "volatile", "while", "bool", "true", "false", "c", "in", "out", "fault", "time", "ticks", "k", "init",
            "fabs", "fabsf", "floor", "floorf", "ceil", "ceilf", "sqrt", "sqrtf", "nan", "infinity", "null", "offsetof", "errno",
            "double_t", "float_t", "int32_max", "int32_min", "huge_val");

    private final Set<String> used = new HashSet<>(Set.of("fault"));

    /** A name as part of an address: letters, digits and underscores, as the sheet spells them. */
    public static String address(String name) {
        String s = name.strip().replaceAll("[^A-Za-z0-9]+", "_").replaceAll("^_+|_+$", "");
        return s.isEmpty() ? "x" : s;
    }

    /** An identifier like the wanted one that this program does not use yet. */
    String fresh(String wanted) {
        String base = address(wanted);
        if (Character.isDigit(base.charAt(0)) || RESERVED.contains(base.toLowerCase(Locale.ROOT))) {
            base = "x_" + base;
        }
        if (base.length() > 55) {
            base = base.substring(base.length() - 55).replaceAll("^[_0-9]+", "");
        }
        String name = base;
        for (int n = 2; !used.add(name); n++) {
            name = base + "_" + n;
        }
        return name;
    }
}
