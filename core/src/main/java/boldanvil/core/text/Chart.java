package boldanvil.core.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.antlr.v4.runtime.CharStream;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.misc.Interval;

/**
 * A sequential function chart as its text states it, with where each piece stands.
 *
 * @param text the whole text
 * @param readable whether its form is right; the pieces of an unreadable text may be incomplete
 */
public record Chart(String text, List<Step> steps, List<Transition> transitions, boolean readable) {
    /** A range of the text: from {@code begin} up to, but not including, {@code end}. */
    public record Range(int begin, int end) {}

    /**
     * An action of a step.
     *
     * @param qualifier such as {@code N}, {@code S} or {@code D}
     * @param time of a timed qualifier; empty for others
     */
    public record Association(String action, String qualifier, String time) {}

    /** A step. */
    public record Step(String name, boolean initial, List<Association> actions, Range range) {}

    /**
     * A transition.
     *
     * @param name empty for none
     * @param condition as it is written
     * @param conditionRange where the condition stands
     */
    public record Transition(String name, List<String> from, List<String> to, String condition, Range conditionRange, Range range) {}

    public Chart {
        steps = List.copyOf(steps);
        transitions = List.copyOf(transitions);
    }

    /** The chart of a text; empty for a text that has none. */
    public static Optional<Chart> of(String text) {
        var parsed = ParsedText.block(text);
        var tree = parsed.unit().chart();
        if (tree == null) {
            return Optional.empty();
        }
        List<Step> steps = new ArrayList<>();
        for (var s : tree.step()) {
            if (s.ID() == null || s.getStop() == null) {
                continue;
            }
            List<Association> actions = new ArrayList<>();
            for (var a : s.association()) {
                if (!a.ID().isEmpty()) {
                    actions.add(new Association(a.ID(0).getText(), a.ID().size() > 1 ? a.ID(1).getText() : "N",
                            a.expression() == null ? "" : written(text, a.expression())));
                }
            }
            steps.add(new Step(s.ID().getText(), s.kind.getType() == StructuredTextParser.INITIAL_STEP, actions, range(s)));
        }
        List<Transition> transitions = new ArrayList<>();
        for (var t : tree.transition()) {
            if (t.from != null && t.to != null && t.expression() != null && t.getStop() != null && t.expression().getStop() != null) {
                transitions.add(new Transition(t.name == null ? "" : t.name.getText(), names(t.from), names(t.to),
                        written(text, t.expression()), range(t.expression()), range(t)));
            }
        }
        return Optional.of(new Chart(text, steps, transitions, parsed.mistakes().isEmpty()));
    }

    private static List<String> names(StructuredTextParser.StepListContext list) {
        return list.ID().stream().map(id -> id.getText()).toList();
    }

    private static Range range(ParserRuleContext tree) {
        return new Range(tree.getStart().getStartIndex(), tree.getStop().getStopIndex() + 1);
    }

    private static String written(String text, ParserRuleContext tree) {
        CharStream source = tree.getStart().getInputStream();
        return source.getText(Interval.of(tree.getStart().getStartIndex(), tree.getStop().getStopIndex())).replaceAll("\\s+", " ");
    }

    /** The step with a name; IEC 61131-3 does not tell capital from small letters. */
    public Optional<Step> step(String name) {
        return steps.stream().filter(s -> s.name().equalsIgnoreCase(name)).findFirst();
    }

    private String with(Range r, String replacement) {
        return text.substring(0, r.begin()) + replacement + text.substring(r.end());
    }

    /** The text with another condition of a transition. */
    public String condition(Transition t, String condition) {
        return with(t.conditionRange(), condition.strip());
    }

    /** The text with another name of a step, wherever it is named. */
    public String renamed(Step s, String name) {
        return text.replaceAll("(?i)\\b" + s.name() + "\\b(?!\\s*:\\s*(?:BOOL|LREAL|REAL|D?INT|TIME))", name);
    }

    /** The text with a new step behind another one, and a transition to it. */
    public String added(Step after, String name) {
        String step = "\n\nSTEP " + name + ":\nEND_STEP";
        String transition = "\n\nTRANSITION FROM " + after.name() + " TO " + name + " := TRUE; END_TRANSITION";
        int end = transitions.isEmpty() ? after.range().end() : transitions.getLast().range().end();
        String next = text.substring(0, end) + transition + text.substring(end);
        return next.substring(0, after.range().end()) + step + next.substring(after.range().end());
    }

    /** The text with a transition between two steps. */
    public String connected(Step from, Step to) {
        int end = transitions.isEmpty() ? steps.getLast().range().end() : transitions.getLast().range().end();
        return text.substring(0, end) + "\nTRANSITION FROM " + from.name() + " TO " + to.name() + " := TRUE; END_TRANSITION"
                + text.substring(end);
    }

    /** The text without a transition. */
    public String without(Transition t) {
        return cut(text, t.range());
    }

    /** The text without a step, and without the transitions at it. */
    public String without(Step s) {
        List<Range> ranges = new ArrayList<>(List.of(s.range()));
        transitions.stream().filter(t -> t.from().stream().anyMatch(s.name()::equalsIgnoreCase)
                || t.to().stream().anyMatch(s.name()::equalsIgnoreCase)).forEach(t -> ranges.add(t.range()));
        ranges.sort(java.util.Comparator.comparingInt(Range::begin).reversed());
        String next = text;
        for (Range r : ranges) {
            next = cut(next, r);
        }
        return next;
    }

    /** A text without a range and the line break behind it. */
    private static String cut(String text, Range r) {
        int end = r.end();
        while (end < text.length() && (text.charAt(end) == ' ' || text.charAt(end) == '\t')) {
            end++;
        }
        return text.substring(0, r.begin()) + (end < text.length() && text.charAt(end) == '\n' ? text.substring(end + 1)
                : text.substring(end));
    }
}
