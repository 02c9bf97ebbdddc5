package boldanvil.core.lower;

import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
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
    private final Map<String, Integer> counts = new HashMap<>();

    /** A name as part of an address: letters, digits and underscores, as the sheet spells them. */
    public static String address(String name) {
        var s = new StringBuilder(name.length());
        for (int i = 0; i < name.length(); i++) {
            char c = name.charAt(i);
            boolean plain = c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9';
            if (plain) {
                s.append(c);
            } else if (!s.isEmpty() && s.charAt(s.length() - 1) != '_') {
                s.append('_');
            }
        }
        if (!s.isEmpty() && s.charAt(s.length() - 1) == '_') {
            s.setLength(s.length() - 1);
        }
        return s.isEmpty() ? "x" : s.toString();
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
        while (!used.add(name)) {
            // Counting goes on where it ended, so that many like names take no longer each.
            name = base + "_" + counts.merge(base, 2, (n, _) -> n + 1);
        }
        return name;
    }
}
