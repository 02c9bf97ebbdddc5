package boldanvil.core.lower;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
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

    /** Macros, types and functions of the C headers that generated code includes, for several compilers and editions of the language. */
    private static final Set<String> OF_HEADERS = ofHeaders();
    /** What the names of files and functions around a part begin with. */
    private static final Set<String> TAKEN_BEGINNINGS = Set.of("ba_", "board_", "standin_", "loop_");
    private static final Set<String> TAKEN = Set.of("ba", "board", "standin", "loop", "image", "main", "line_functions");

    private final Set<String> used = new HashSet<>(Set.of("fault"));
    private final Map<String, Integer> counts = new HashMap<>();

    private static Set<String> ofHeaders() {
        try (var in = Names.class.getResourceAsStream("reserved-in-c.txt")) {
            return Set.copyOf(new String(in.readAllBytes(), StandardCharsets.UTF_8).lines().toList());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Whether a part can have this id, which begins the names of its files, types and functions. */
    static boolean isFreeForPart(String id) {
        return !OF_HEADERS.contains(id + "_t") && !TAKEN.contains(id)
                && TAKEN_BEGINNINGS.stream().noneMatch(id::startsWith);
    }

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
        if (Character.isDigit(base.charAt(0)) || RESERVED.contains(base.toLowerCase(Locale.ROOT)) || OF_HEADERS.contains(base)) {
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
