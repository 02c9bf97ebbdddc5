package boldanvil.core.trial;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.quantity.Quantity;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** A trial resolved against a rig: its steps in the order in which they are run, repetitions and calls written out. */
public final class TrialPlan {
    /** Most steps a trial comes to. */
    static final int MAX_STEPS = 20_000;
    private static final int MAX_CALLS = 8;

    /**
     * A step to run.
     *
     * @param row values of the repetitions around it, for people; empty for none
     */
    record Planned(Act act, String trial, Step.Line at, String row) {
        /** The step as it is run. */
        String text() {
            return at.text() + (row.isEmpty() ? "" : " (" + row + ")");
        }
    }

    private final Trial trial;
    private final TrialSet set;
    private final LoweredSystem system;
    private final Signals signals;
    private final List<Planned> steps = new ArrayList<>();
    private final List<Finding> findings = new ArrayList<>();
    private final Deque<String> rows = new ArrayDeque<>();
    private final Set<String> calls = new LinkedHashSet<>();
    private final long limitNanos;

    private TrialPlan(TrialSet set, Trial trial, Map<String, Quantity> variables, LoweredSystem system, Map<String, Instance> instances) {
        this.set = set;
        this.trial = trial;
        this.system = system;
        signals = new Signals(system, instances);
        findings.addAll(set.findings(trial.name()));
        long limit = 0;
        try {
            limit = new Resolver(set, signals, system, variables).nanos(trial.limit());
        } catch (IllegalArgumentException | FindingException e) {
            wrong(trial.name(), 0, "The limit: " + e.getMessage());
        }
        limitNanos = limit;
        add(trial, trial.steps(), variables);
        if (trial.steps().isEmpty() && findings.isEmpty()) {
            findings.add(Finding.error(Place.trial(trial.name(), 0), "The trial has no step.", "Write what is to be done and expected."));
        }
    }

    /**
     * Resolves a trial.
     *
     * @param name of the trial
     * @param variables values of the project's variables
     * @param instances one for each part; empty where the trial is only checked
     * @throws FindingException when there is no such trial
     */
    public static TrialPlan of(TrialSet set, String name, Map<String, Quantity> variables, LoweredSystem system,
            Map<String, Instance> instances) {
        Trial trial = set.find(name).orElseThrow(() -> FindingException.of(Place.trial(name, 0), "There is no trial '" + name + "'.",
                "Trials are: " + String.join(", ", set.all().stream().map(Trial::name).toList()) + "."));
        return new TrialPlan(set, trial, variables, system, instances);
    }

    /** This plan, or an exception with what is wrong. */
    public TrialPlan orThrow() {
        if (!findings.isEmpty()) {
            throw new FindingException(findings);
        }
        return this;
    }

    public Trial trial() {
        return trial;
    }

    /** What is wrong, each at its line. */
    public List<Finding> findings() {
        return List.copyOf(findings);
    }

    List<Planned> steps() {
        return steps;
    }

    Signals signals() {
        return signals;
    }

    /** Most simulated time it takes. */
    public long limitNanos() {
        return limitNanos;
    }

    private void wrong(String in, int line, String cause) {
        var f = Finding.error(Place.trial(in, line), cause, "Correct the line; docs/trials.md describes each step.");
        if (!findings.contains(f)) {
            findings.add(f);
        }
    }

    private void add(Trial in, List<Step> all, Map<String, Quantity> scope) {
        for (Step s : all) {
            if (steps.size() >= MAX_STEPS) {
                wrong(in.name(), s.at().number(), "The trial comes to more than " + MAX_STEPS + " steps.");
                return;
            }
            try {
                switch (s) {
                    case Step.Repeat r -> repeat(in, r, scope);
                    case Step.Call c -> call(in, c, scope);
                    default -> steps.add(new Planned(new Resolver(set, signals, system, scope).act(s), in.name(), s.at(),
                            String.join(", ", rows)));
                }
            } catch (FindingException e) {
                e.findings().forEach(f -> wrong(in.name(), s.at().number(), f.cause() + (f.cure().isEmpty() ? "" : " " + f.cure())));
            } catch (IllegalArgumentException e) {
                wrong(in.name(), s.at().number(), e.getMessage());
            }
        }
    }

    private void call(Trial in, Step.Call c, Map<String, Quantity> scope) {
        Trial other = set.find(c.trial()).orElseThrow(() -> new IllegalArgumentException("There is no trial '" + c.trial() + "'."));
        if (other.name().equals(trial.name()) || calls.contains(other.name())) {
            throw new IllegalArgumentException("The trial calls itself: " + String.join(" → ", calls) + " → " + c.trial() + ".");
        }
        if (calls.size() >= MAX_CALLS) {
            throw new IllegalArgumentException("Trials call each other more than " + MAX_CALLS + " deep.");
        }
        set.findings(other.name()).stream().filter(f -> !findings.contains(f)).forEach(findings::add);
        calls.add(other.name());
        add(other, other.steps(), scope);
        calls.remove(other.name());
    }

    private void repeat(Trial in, Step.Repeat r, Map<String, Quantity> scope) {
        for (List<String> row : r.rows()) {
            Map<String, Quantity> inner = new HashMap<>(scope);
            Map<String, String> texts = new HashMap<>();
            for (int i = 0; i < row.size(); i++) {
                texts.put(r.names().get(i), row.get(i));
                var value = new Resolver(set, signals, system, scope).valueIfAny(row.get(i));
                if (value.isPresent()) {
                    inner.put(r.names().get(i), value.get());
                } else {
                    inner.remove(r.names().get(i));
                }
            }
            rows.addLast(r.names().stream().map(n -> n + " = " + texts.get(n)).collect(Collectors.joining(", ")));
            add(in, r.steps().stream().map(s -> filled(s, texts)).toList(), inner);
            rows.removeLast();
            if (steps.size() >= MAX_STEPS) {
                wrong(in.name(), r.at().number(), "The trial comes to more than " + MAX_STEPS + " steps.");
                return;
            }
        }
    }

    /** A step with the texts of a row in the place of names in braces. */
    private static Step filled(Step s, Map<String, String> texts) {
        return switch (s) {
            case Step.Template t -> {
                String text = filled(t.at().text(), texts);
                var at = new Step.Line(t.at().number(), text, t.at().requirements());
                yield text.indexOf('{') >= 0 ? new Step.Template(at) : TrialReader.step(at);
            }
            case Step.Repeat r -> new Step.Repeat(r.at(), r.names(), r.rows().stream().map(row -> row.stream().map(
                    cell -> filled(cell, texts)).toList()).toList(), r.steps().stream().map(i -> filled(i, texts)).toList());
            default -> s;
        };
    }

    private static String filled(String text, Map<String, String> texts) {
        String now = text;
        for (var e : texts.entrySet()) {
            now = now.replace("{" + e.getKey() + "}", e.getValue());
        }
        return now;
    }
}
