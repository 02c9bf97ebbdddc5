package boldanvil.core.iec;

import boldanvil.core.output.CodeText;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

/** Declares slots as variables, with their values at the beginning and what they are. */
final class StDeclarations {
    private final Program program;
    private final StNames names;

    StDeclarations(Program program, StNames names) {
        this.program = program;
        this.names = names;
    }

    static String comment(String text) {
        return text.replace("*)", "* )").replace("(*", "( *");
    }

    static String type(Slot s) {
        String one = StExpressions.type(s.type());
        return s.isArray() ? "ARRAY [0.." + (s.length() - 1) + "] OF " + one : one;
    }

    /** Variables of one kind; nothing where there are none. */
    static <T> void section(CodeText t, String kind, List<T> some, Consumer<T> declare) {
        if (!some.isEmpty()) {
            t.open(kind);
            some.forEach(declare);
            t.close("END_VAR");
        }
    }

    /** Without a remark. */
    void local(CodeText t, Slot s) {
        declare(t, s, "", "");
    }

    void declare(CodeText t, Slot s) {
        declare(t, s, "", remark(s));
    }

    /** @param address empty for none */
    void port(CodeText t, Slot s, String address) {
        declare(t, s, address.isEmpty() ? "" : " AT " + address, remark(s));
    }

    private void declare(CodeText t, Slot s, String at, String remark) {
        t.at(s.path()).line(names.of(s) + at + " : " + type(s) + initial(s) + ";"
                + (remark.isEmpty() ? "" : " (* " + comment(remark) + " *)")).at(null);
    }

    /** Known from another place of the file. */
    void external(CodeText t, Slot s) {
        t.line(names.of(s) + " : " + type(s) + ";");
    }

    private static String initial(Slot s) {
        if (!s.isArray()) {
            return s.initial() == 0 && 1 / s.initial() > 0 ? "" : " := " + StExpressions.plain(s.type(), s.initial());
        }
        List<String> values = new ArrayList<>();
        for (int i = 0; i < s.length(); ) {
            int n = 1;
            while (i + n < s.length() && Double.compare(s.initial(i + n), s.initial(i)) == 0) {
                n++;
            }
            String one = StExpressions.plain(s.type(), s.initial(i));
            values.add(n == 1 ? one : n + "(" + one + ")");
            i += n;
        }
        return values.size() == 1 && s.initial() == 0 ? "" : " := [" + String.join(", ", values) + "]";
    }

    private String remark(Slot s) {
        String limits = program.tunables().stream().filter(u -> u.slot() == s && (u.minimum() > -Double.MAX_VALUE
                || u.maximum() < Double.MAX_VALUE)).findFirst().map(u -> ", " + u.minimum() + " to " + u.maximum()).orElse("");
        String tap = program.taps().stream().filter(x -> x.slot() == s).findFirst().map(x -> ", tap " + x.name()).orElse("");
        return s.path() + (s.unit().isEmpty() ? "" : " [" + s.unit() + "]") + limits + tap;
    }
}
