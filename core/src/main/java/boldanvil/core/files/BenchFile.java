package boldanvil.core.files;

import static boldanvil.core.files.JsonLines.line;
import static boldanvil.core.files.JsonLines.number;
import static boldanvil.core.files.JsonLines.quote;

import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Control;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Function;
import tools.jackson.databind.JsonNode;

/** The bench as JSON; what has its usual value is not written. */
final class BenchFile {
    private BenchFile() {}

    static BenchLayout read(JsonNode n) {
        return new BenchLayout(list(n.path("controls"), BenchFile::control), n.path("columns").asInt(1),
                list(n.path("charts"), BenchFile::chart),
                list(n.path("readouts"), r -> new BenchLayout.Readout(word(r, "display", BenchLayout.Display.NUMBER), text(r, "title"),
                texts(r.path("taps")),
                        text(r, "unit"), r.path("minimum").asDouble(0), r.path("maximum").asDouble(1))),
                list(n.path("drawings"), d -> new BenchLayout.Drawing(text(d, "title"), text(d, "file"),
                list(d.path("bindings"), b -> new BenchLayout.Binding(
                        text(b, "element"), word(b, "effect", BenchLayout.Effect.VISIBLE), text(b, "tap"), b.path("low").asDouble(0),
                        b.path("high").asDouble(1),
                        text(b, "from"), text(b, "to"))))),
                list(n.path("limits"), l -> new BenchLayout.Limit(text(l, "tap"), text(l, "unit"), l.path("least").asDouble(Double.NaN),
                        l.path("most").asDouble(Double.NaN), l.path("rate").asDouble(Double.NaN), l.path("seconds").asDouble(0))),
                list(n.path("sets"), BenchFile::set));
    }

    private static BenchLayout.ValueSet set(JsonNode s) {
        Map<String, Double> values = new LinkedHashMap<>();
        s.path("values").properties().forEach(e -> values.put(e.getKey(), e.getValue().asDouble(0)));
        return new BenchLayout.ValueSet(text(s, "name"), values);
    }

    private static Control control(JsonNode c) {
        double minimum = c.path("minimum").asDouble(0);
        double maximum = c.path("maximum").asDouble(1);
        return new Control(word(c, "shape", BenchLayout.Shape.NUMBER), text(c, "title"), text(c, "tunable"), text(c, "unit"), minimum,
                maximum,
                c.path("rate").asDouble(0), c.path("step").asDouble(0), c.path("softMinimum").asDouble(minimum),
                c.path("softMaximum").asDouble(maximum),
                text(c, "group"), list(c.path("choices"), x -> new BenchLayout.Choice(text(x, "label"), x.path("value").asDouble(0))));
    }

    private static Chart chart(JsonNode c) {
        return new Chart(text(c, "title"), word(c, "kind", BenchLayout.Kind.TRACE), text(c, "unit"), texts(c.path("taps")),
                text(c, "rightUnit"),
                texts(c.path("rightTaps")), word(c, "style", BenchLayout.Style.LINE), c.path("base").asDouble(0),
                c.path("period").asDouble(0),
                word(c, "decoder", BenchLayout.Decoder.NONE), c.path("baud").asDouble(9_600));
    }

    private static <T> List<T> list(JsonNode n, Function<JsonNode, T> each) {
        List<T> all = new ArrayList<>();
        n.forEach(x -> all.add(each.apply(x)));
        return all;
    }

    private static List<String> texts(JsonNode n) {
        return list(n, x -> x.asString(""));
    }

    private static String text(JsonNode n, String key) {
        return n.path(key).asString("");
    }

    private static <E extends Enum<E>> E word(JsonNode n, String key, E usual) {
        String word = n.path(key).asString("");
        return word.isEmpty() ? usual : Enum.valueOf(usual.getDeclaringClass(), word.toUpperCase(Locale.ROOT).replace('-', '_'));
    }

    static String write(BenchLayout b) {
        var lines = new JsonLines().put("format", "1");
        if (b.columns() != 1) {
            lines.put("columns", number(b.columns()));
        }
        lines.list("controls", b.controls().stream().map(BenchFile::control).toList())
                .list("charts", b.charts().stream().map(BenchFile::chart).toList());
        some(lines, "readouts", b.readouts(), r -> line("display", label(r.display()), "title", quote(r.title()), "taps",
                JsonLines.array(r.taps()),
                "unit", quote(r.unit()), "minimum", number(r.minimum()), "maximum", number(r.maximum())));
        some(lines, "drawings", b.drawings(), d -> line("title", quote(d.title()), "file", quote(d.file()), "bindings",
                "[\n      " + String.join(",\n      ",
                d.bindings().stream().map(x -> line("element", quote(x.element()), "effect", label(x.effect()), "tap", quote(x.tap()),
                "low", number(x.low()),
                        "high", number(x.high()), "from", unless(x.from().isEmpty(), quote(x.from())), "to",
                        unless(x.to().isEmpty(), quote(x.to())))).toList()) + "]"));
        some(lines, "limits", b.limits(), l -> line("tap", quote(l.tap()), "unit", quote(l.unit()), "least", finite(l.least()), "most",
                finite(l.most()),
                "rate", finite(l.rate()), "seconds", unless(l.seconds() == 0, number(l.seconds()))));
        some(lines, "sets", b.sets(), s -> line("name", quote(s.name()), "values", line(s.values().entrySet().stream()
                .flatMap(e -> java.util.stream.Stream.of(e.getKey(), number(e.getValue()))).toArray())));
        return lines.toString();
    }

    private static <T> void some(JsonLines lines, String key, List<T> entries, Function<T, String> each) {
        if (!entries.isEmpty()) {
            lines.list(key, entries.stream().map(each).toList());
        }
    }

    private static String control(Control c) {
        return line("shape", label(c.shape()), "title", quote(c.title()), "tunable", quote(c.tunable()), "unit", quote(c.unit()),
                "minimum", number(c.minimum()),
                "maximum", number(c.maximum()), "rate", number(c.rate()), "step", unless(c.step() == 0, number(c.step())),
                "softMinimum", unless(c.softMinimum() == c.minimum(), number(c.softMinimum())), "softMaximum",
                unless(c.softMaximum() == c.maximum(), number(c.softMaximum())),
                "group", unless(c.group().isEmpty(), quote(c.group())), "choices", unless(c.choices().isEmpty(), "[" + String.join(", ",
                        c.choices().stream().map(x -> line("label", quote(x.label()), "value", number(x.value()))).toList()) + "]"));
    }

    private static String chart(Chart c) {
        return line("title", quote(c.title()), "kind", unless(c.kind() == BenchLayout.Kind.TRACE, label(c.kind())), "unit", quote(c.unit()),
                "taps", JsonLines.array(c.taps()), "rightUnit", unless(c.rightTaps().isEmpty(), quote(c.rightUnit())),
                "rightTaps", unless(c.rightTaps().isEmpty(), JsonLines.array(c.rightTaps())), "style",
                unless(c.style() == BenchLayout.Style.LINE, label(c.style())),
                "base", unless(c.base() == 0, number(c.base())), "period", unless(c.period() == 0, number(c.period())),
                "decoder", unless(c.decoder() == BenchLayout.Decoder.NONE, label(c.decoder())), "baud",
                unless(c.decoder() != BenchLayout.Decoder.UART, number(c.baud())));
    }

    private static String label(Enum<?> e) {
        return quote(e.name().toLowerCase(Locale.ROOT).replace('_', '-'));
    }

    private static String unless(boolean usual, String json) {
        return usual ? null : json;
    }

    private static String finite(double v) {
        return Double.isNaN(v) ? null : number(v);
    }
}
