package boldanvil.core.c;

import boldanvil.core.program.Slot;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Set;

/**
 * Names of the IR as C can use them. A name that C or its headers have gets an underscore at its end; no name of the IR ends with one, so
 * different names stay different.
 */
public final class CNames {
    /** Words of the language, and names that the generated functions use themselves. */
    private static final Set<String> RESERVED = Set.of("auto", "break", "case", "char", "const", "continue", "default", "do",
            "double", "else", "enum", "extern", "float", "for", "goto", "if", "inline", "int", "long", "register", "restrict",
            "return", "short", "signed", "sizeof", "static", "struct", "switch", "typedef", "union", "unsigned", "void",
            "volatile", "while", "bool", "true", "false", "c", "in", "out", "k",
            "fabs", "fabsf", "floor", "floorf", "ceil", "ceilf", "sqrt", "sqrtf", "nan", "infinity", "null", "offsetof", "errno",
            "double_t", "float_t", "int32_max", "int32_min", "huge_val");

    /** Macros, types and functions of the C headers that generated code includes, for several compilers and editions of the language. */
    private static final Set<String> OF_HEADERS = ofHeaders();
    /** What the names of files and functions around a part begin with. */
    private static final Set<String> TAKEN_BEGINNINGS = Set.of("ba_", "board_", "standin_", "loop_");
    private static final Set<String> TAKEN = Set.of("ba", "board", "standin", "loop", "image", "main");

    private CNames() {}

    private static Set<String> ofHeaders() {
        try (var in = CNames.class.getResourceAsStream("reserved-in-c.txt")) {
            return Set.copyOf(new String(in.readAllBytes(), StandardCharsets.UTF_8).lines().toList());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Whether a part can have this id, which begins the names of its files, types and functions. */
    public static boolean isFreeForPart(String id) {
        return !OF_HEADERS.contains(id + "_t") && !TAKEN.contains(id) && TAKEN_BEGINNINGS.stream().noneMatch(id::startsWith);
    }

    static String of(Slot s) {
        return of(s.name());
    }

    static String of(String name) {
        return RESERVED.contains(name.toLowerCase(Locale.ROOT)) || OF_HEADERS.contains(name) ? name + "_" : name;
    }
}
