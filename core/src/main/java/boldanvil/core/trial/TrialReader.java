package boldanvil.core.trial;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Reads the text of a trial: a line for each step, described in docs/trials.md. What cannot be read becomes a finding at its line, and the
 * rest is read nevertheless.
 */
public final class TrialReader {
    /** Longest text, in characters. */
    public static final int MAX_LENGTH = 1_000_000;
    private static final int MAX_DEPTH = 8;
    private static final Pattern REQUIREMENTS = Pattern.compile("\\s\\[([\\w.-]+(?:\\s*,\\s*[\\w.-]+)*)]$");
    /** Words that lines of the header begin with. */
    public static final List<String> HEADER = List.of("trial", "rigs", "tags", "covers", "limit");
    private static final List<String> TIMES = List.of("for", "within", "after", "over");

    /** A trial with what is wrong with its text. */
    public record Result(Trial trial, List<Finding> findings) {}

    /** A repetition whose {@code end} is still to come. */
    private static final class Open {
        final Step.Line at;
        final List<String> names = new ArrayList<>();
        final List<List<String>> rows = new ArrayList<>();
        final List<Step> steps = new ArrayList<>();

        Open(Step.Line at) {
            this.at = at;
        }
    }

    private final String name;
    private final Map<String, String> header = new LinkedHashMap<>();
    private final List<Finding> findings = new ArrayList<>();
    private final Deque<Open> open = new ArrayDeque<>();
    private final List<Step> steps = new ArrayList<>();

    private TrialReader(String name) {
        this.name = name;
    }

    /** @param name of the file, without ending */
    public static Result read(String name, String text) {
        var reader = new TrialReader(name);
        if (text.length() > MAX_LENGTH) {
            reader.wrong(1, "The trial is longer than " + MAX_LENGTH + " characters.", "Divide it; one trial may call another.");
        } else {
            int number = 0;
            for (String line : text.split("\\R", -1)) {
                reader.line(++number, line.strip());
            }
            reader.open.forEach(o -> reader.wrong(o.at.number(), "The repetition does not end.", "Write 'end' below its last step."));
        }
        return new Result(reader.trial(), List.copyOf(reader.findings));
    }

    private Trial trial() {
        return new Trial(name, header.getOrDefault("trial", name), list("rigs"), list("tags"), list("covers"),
                header.getOrDefault("limit", Trial.USUAL_LIMIT), steps);
    }

    private List<String> list(String word) {
        return Arrays.stream(header.getOrDefault(word, "").split("[,\\s]+")).filter(s -> !s.isEmpty()).toList();
    }

    private void wrong(int line, String cause, String cure) {
        findings.add(Finding.error(Place.trial(name, line), cause, cure));
    }

    /** A line of a text, stripped, divided into what it says and the requirements it names. */
    public static Step.Line divided(int number, String line) {
        Matcher m = REQUIREMENTS.matcher(line);
        boolean requires = !line.startsWith("#") && m.find();
        return new Step.Line(number, requires ? line.substring(0, m.start()).strip() : line,
                requires ? Arrays.stream(m.group(1).split(",")).map(String::strip).toList() : List.of());
    }

    private void line(int number, String line) {
        if (line.isEmpty() || line.startsWith("#")) {
            return;
        }
        var at = divided(number, line);
        String text = at.text();
        int space = text.indexOf(' ');
        String verb = space < 0 ? text : text.substring(0, space);
        String rest = space < 0 ? "" : text.substring(space).strip();
        try {
            read(at, verb, rest);
        } catch (IllegalArgumentException e) {
            wrong(number, e.getMessage(), "Correct the line, or see the list of steps in docs/trials.md.");
        }
    }

    private void read(Step.Line at, String verb, String rest) {
        if (verb.startsWith("|")) {
            row(at);
            return;
        }
        if (HEADER.contains(verb)) {
            header(verb, rest);
            return;
        }
        switch (verb) {
            case "repeat" -> repeat(at, rest);
            case "end" -> end();
            default -> add(!open.isEmpty() && at.text().indexOf('{') >= 0 ? new Step.Template(at) : step(at));
        }
    }

    private void header(String word, String rest) {
        if (!steps.isEmpty() || !open.isEmpty()) {
            throw new IllegalArgumentException("'" + word + "' stands behind a step; it belongs at the beginning.");
        }
        if (rest.isEmpty() || header.put(word, rest) != null) {
            throw new IllegalArgumentException(rest.isEmpty() ? "Nothing follows '" + word + "'." : "'" + word + "' is stated twice.");
        }
    }

    private void add(Step s) {
        if (!open.isEmpty() && open.peek().rows.isEmpty()) {
            throw new IllegalArgumentException("The repetition has no values; write a table, a row for each time, before its first step.");
        }
        (open.isEmpty() ? steps : open.peek().steps).add(s);
    }

    private void repeat(Step.Line at, String rest) {
        if (open.size() == MAX_DEPTH) {
            throw new IllegalArgumentException("Repetitions are nested deeper than " + MAX_DEPTH + ".");
        }
        var o = new Open(at);
        open.push(o);
        if (!rest.isEmpty() && !rest.equals("for")) {
            var c = Clauses.of(rest, List.of("for", "in"));
            if (c.part("for").isEmpty() || c.part("in").isEmpty()) {
                throw new IllegalArgumentException("Write 'repeat for NAME in VALUE, VALUE' or 'repeat for' and a table below.");
            }
            o.names.add(c.part("for"));
            split(c.part("in")).forEach(v -> o.rows.add(List.of(v)));
        }
    }

    private void row(Step.Line at) {
        if (open.isEmpty() || !open.peek().steps.isEmpty()) {
            throw new IllegalArgumentException("The table belongs to nothing; it stands below 'repeat for'.");
        }
        String inner = at.text().substring(1, at.text().length() - (at.text().length() > 1 && at.text().endsWith("|") ? 1 : 0));
        List<String> cells = Arrays.stream(inner.split("\\|", -1)).map(String::strip).toList();
        var o = open.peek();
        if (o.names.isEmpty()) {
            o.names.addAll(cells);
        } else if (cells.size() != o.names.size()) {
            throw new IllegalArgumentException("The row has " + cells.size() + " values, but the table has " + o.names.size()
                    + " columns.");
        } else {
            o.rows.add(cells);
        }
    }

    private void end() {
        if (open.isEmpty()) {
            throw new IllegalArgumentException("There is no repetition that could end here.");
        }
        var o = open.pop();
        add(new Step.Repeat(o.at, List.copyOf(o.names), List.copyOf(o.rows), List.copyOf(o.steps)));
    }

    /** @throws IllegalArgumentException when the line is not a step */
    static Step step(Step.Line at) {
        int space = at.text().indexOf(' ');
        String verb = space < 0 ? at.text() : at.text().substring(0, space);
        String rest = space < 0 ? "" : at.text().substring(space).strip();
        return switch (verb) {
            case "set" -> set(at, rest);
            case "ramp" -> {
                var c = Clauses.of(rest, List.of("to", "in")).require(List.of("to", "in"), "ramp controller.target to 200 mm in 1 s");
                yield new Step.Ramp(at, c.head(), c.part("to"), c.part("in"));
            }
            case "apply" -> apply(at, rest);
            case "release" -> new Step.Release(at, required(rest, "release controller.target"));
            case "wait" -> wait(at, rest);
            case "expect" -> expect(at, rest);
            case "always", "never" -> {
                var c = Clauses.of(rest, List.of("for")).require(List.of(), verb + " drive.current > 20 A");
                yield new Step.Watch(at, c.head(), verb.equals("never"), c.part("for"));
            }
            case "insert" -> {
                var c = Clauses.of(rest, FaultWords.CLAUSES).require(List.of("on"), "insert offset of 2 A on drive.shunt A");
                yield new Step.Insert(at, c.head(), c.parts(), c.part("on"), c.part("for"));
            }
            case "clear" -> new Step.Clear(at, required(rest, "clear all").equals("all") ? "" : rest);
            case "ask" -> new Step.Ask(at, unquoted(required(rest, "ask \"Is the lamp lit?\"")));
            case "call" -> new Step.Call(at, unquoted(required(rest, "call open-paddle")));
            default -> throw new IllegalArgumentException("There is no step '" + verb + "'. Steps are set, ramp, apply, release, wait, "
                    + "expect, always, never, insert, clear, ask, call, repeat.");
        };
    }

    private static String required(String rest, String example) {
        if (rest.isEmpty()) {
            throw new IllegalArgumentException("The step is incomplete; write for example: " + example);
        }
        return rest;
    }

    private static String unquoted(String text) {
        return text.length() > 1 && text.startsWith("\"") && text.endsWith("\"") ? text.substring(1, text.length() - 1) : text;
    }

    /** Texts between commas outside of brackets. */
    static List<String> split(String text) {
        List<String> all = new ArrayList<>();
        int depth = 0;
        int begin = 0;
        for (int i = 0; i <= text.length(); i++) {
            char c = i < text.length() ? text.charAt(i) : ',';
            depth += c == '(' || c == '[' ? 1 : c == ')' || c == ']' ? -1 : 0;
            if (c == ',' && (depth <= 0 || i == text.length())) {
                all.add(text.substring(begin, i).strip());
                begin = i + 1;
            }
        }
        return all;
    }

    private static Step set(Step.Line at, String rest) {
        Map<String, String> values = new LinkedHashMap<>();
        for (String one : split(rest)) {
            var c = Clauses.of(one, List.of("to")).require(List.of("to"), "set controller.target to 200 mm");
            if (values.put(c.head(), c.part("to")) != null) {
                throw new IllegalArgumentException("'" + c.head() + "' is set twice.");
            }
        }
        return new Step.Set(at, values);
    }

    private static Step apply(Step.Line at, String rest) {
        var c = Clauses.of(rest, List.of("of", "at", "around", "from", "until", "in", "to", "for", "every"));
        var w = Waves.of(c.head());
        c.require(w.required(), w.example());
        c.parts().keySet().stream().filter(k -> !w.required().contains(k) && !w.optional().contains(k)).findFirst().ifPresent(k -> {
            throw new IllegalArgumentException("A " + w.label() + " has no '" + k + "'; write for example: " + w.example());
        });
        return new Step.Apply(at, c.part("to"), w.label(), c.parts());
    }

    private static Step wait(Step.Line at, String rest) {
        if (!rest.startsWith("until ")) {
            return new Step.Wait(at, required(rest, "wait 2 s"));
        }
        var c = Clauses.of(rest.substring("until ".length()), TIMES).require(List.of("within"),
                "wait until drive.position > 100 mm within 3 s");
        return new Step.WaitUntil(at, c.head(), c.part("for"), c.part("within"));
    }

    private static Step expect(Step.Line at, String rest) {
        var c = Clauses.of(rest, TIMES).require(List.of(), "expect drive.position = 200 mm ± 2 mm within 3 s");
        String head = c.head();
        if (head.startsWith("order ")) {
            c.require(List.of("within"), "expect order A, then B, then C within 3 s");
            return new Step.Order(at, Arrays.stream(head.substring("order ".length()).split(",\\s*then\\s+")).map(String::strip).toList(),
                    c.part("within"));
        }
        for (String way : List.of("rising", "falling")) {
            if (head.endsWith(" " + way) || head.contains(" " + way + " allowing ")) {
                int i = head.indexOf(" " + way);
                c.require(List.of("for"), "expect drive.position rising for 1 s");
                String margin = head.substring(i + way.length() + 1).strip().replaceFirst("^allowing\\s+", "");
                return new Step.Trend(at, head.substring(0, i).strip(), way.equals("rising"), margin, c.part("for"));
            }
        }
        var like = Clauses.of(head, List.of("like", "±", "+-"));
        if (!like.part("like").isEmpty()) {
            c.require(List.of("for"), "expect drive.position like rise ± 2 mm for 3 s");
            String tolerance = like.part("±") + like.part("+-");
            if (tolerance.isEmpty()) {
                throw new IllegalArgumentException("The tolerance is missing; write for example: "
                        + "expect drive.position like rise ± 2 mm for 3 s");
            }
            return new Step.Like(at, like.head(), like.part("like"), tolerance, c.part("for"));
        }
        var measured = measure(at, head, c.part("over"));
        return measured != null ? measured : new Step.Expect(at, head, c.part("for"), c.part("within"), c.part("after"));
    }

    private static final Pattern COMPARISON = Pattern.compile("\\s(<=|>=|<>|[<>=≤≥≠]|between\\s).*$");

    private static Step measure(Step.Line at, String head, String over) {
        Matcher m = COMPARISON.matcher(head);
        int of = head.indexOf(" of ");
        if (of < 0 || Figure.labelled(head.substring(0, of).strip()).isEmpty()) {
            return null;
        }
        Figure f = Figure.labelled(head.substring(0, of).strip()).get();
        String example = f.isOfStep() ? "expect " + f.label() + " of drive.position from 0 mm to 200 mm < 5 over 2 s"
                : "expect " + f.label() + " of drive.current < 5 A over 2 s";
        if (!m.find() || over.isEmpty()) {
            throw new IllegalArgumentException("The step is incomplete; write for example: " + example);
        }
        var c = Clauses.of(head.substring(of + " of ".length(), m.start()), List.of("from", "to")).require(f.isOfStep()
                ? List.of("from", "to") : List.of(), example);
        return new Step.Measure(at, f, c.head(), c.part("from"), c.part("to"), m.group().strip(), over);
    }
}
