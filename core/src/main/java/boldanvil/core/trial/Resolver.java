package boldanvil.core.trial;

import boldanvil.core.finding.Place;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.quantity.Dimension;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Live;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.simulate.Wires;
import boldanvil.core.trial.Act.Look;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Makes acts of steps: resolves addresses, values with their units, and conditions. Whatever does not fit is an exception with its cause.
 */
final class Resolver {
    private static final double LONGEST_SECONDS = 1e6;

    private final TrialSet set;
    private final Signals signals;
    private final LoweredSystem system;
    private final Map<String, Quantity> variables;

    Resolver(TrialSet set, Signals signals, LoweredSystem system, Map<String, Quantity> variables) {
        this.set = set;
        this.signals = signals;
        this.system = system;
        this.variables = variables;
    }

    Act act(Step step) {
        return switch (step) {
            case Step.Set s -> {
                Map<String, Double> values = new LinkedHashMap<>();
                s.values().forEach((address, text) -> values.put(address, tunable(address, text)));
                yield Changes.set(values);
            }
            case Step.Ramp s -> Changes.ramp(s.address(), tunable(s.address(), s.to()), positive(nanos(s.time()), s.time()));
            case Step.Apply s -> apply(s);
            case Step.Release s -> {
                Addresses.tunable(system, s.address());
                yield Changes.release(s.address());
            }
            case Step.Wait s -> Changes.waiting(nanos(s.time()));
            case Step.WaitUntil s -> Expectations.within(condition(s.condition()), nanosOr0(s.lasting()), nanos(s.within()), null, true);
            case Step.Expect s -> expect(s);
            case Step.Watch s -> Expectations.watch(condition(s.condition()), s.never(), nanosOr0(s.lasting()));
            case Step.Order s -> Expectations.order(s.conditions().stream().map(this::condition).toList(), nanos(s.within()));
            case Step.Measure s -> measure(s);
            case Step.Trend s -> Expectations.trend(signal(s.signal()), s.rising(), s.margin().isEmpty() ? 0
                    : difference(s.margin(), signals.unit(s.signal())), nanos(s.lasting()));
            case Step.Like s -> Expectations.like(signal(s.signal()), course(s.reference(), s.signal()),
                    difference(s.tolerance(), signals.unit(s.signal())), nanos(s.lasting()));
            case Step.Insert s -> {
                var f = fault(s);
                yield Changes.insert(f.address(), f.fault(), f.nanos());
            }
            case Step.Clear s -> {
                if (!s.address().isEmpty() && !system.parts().containsKey(s.address())) {
                    wire(s.address());
                }
                yield Changes.clear(s.address());
            }
            case Step.Ask s -> Changes.ask(s.question());
            case Step.Template t -> throw new IllegalArgumentException("There is no column for a name in braces: " + t.at().text());
            case Step.Call _, Step.Repeat _ -> throw new IllegalStateException("written out by the plan");
        };
    }

    /** A value in a table, where it is one. */
    Optional<Quantity> valueIfAny(String text) {
        try {
            return Optional.of(Formula.quantity(text, variables));
        } catch (FormulaException e) {
            return Optional.empty();
        }
    }

    private static IllegalArgumentException wrong(String text, FormulaException e) {
        return new IllegalArgumentException("'" + text + "': " + e.getMessage());
    }

    double value(String text, String unit) {
        try {
            double v = Formula.evaluate(text, variables, unit);
            if (!Double.isFinite(v)) {
                throw new IllegalArgumentException("'" + text + "' is not a finite value.");
            }
            return v;
        } catch (FormulaException e) {
            throw wrong(text, e);
        }
    }

    /** A difference between two values of a unit: 2 °C are 2 K. */
    private double difference(String text, String unit) {
        var q = valueIfAny(text);
        var u = Units.find(unit);
        double v = q.isPresent() && q.get().isBare() && u.isPresent() ? q.get().value() * u.get().factor() : value(text, unit);
        if (!(v >= 0)) {
            throw new IllegalArgumentException("'" + text + "' is below 0.");
        }
        return v;
    }

    long nanos(String text) {
        double s;
        try {
            var q = Formula.quantity(text, variables);
            if (q.isBare() && q.value() != 0) {
                throw new IllegalArgumentException("'" + text + "' is a time, so it needs a unit.");
            }
            s = q.in("s");
        } catch (FormulaException e) {
            throw wrong(text, e);
        }
        if (!(s >= 0 && s <= LONGEST_SECONDS)) {
            throw new IllegalArgumentException("'" + text + "' is not a time from 0 s to " + Math.round(LONGEST_SECONDS) + " s.");
        }
        return Math.round(s * 1e9);
    }

    private long nanosOr0(String text) {
        return text.isEmpty() ? 0 : nanos(text);
    }

    private static long positive(long nanos, String text) {
        if (nanos == 0) {
            throw new IllegalArgumentException("'" + text + "' is a time of 0; use 'set' for a change at once.");
        }
        return nanos;
    }

    private double tunable(String address, String text) {
        double v = value(text, Addresses.tunable(system, address).tunable().slot().unit());
        Addresses.tunable(system, address, v);
        return v;
    }

    private String signal(String name) {
        if (!signals.has(name)) {
            throw new IllegalArgumentException("There is no signal '" + name + "' that is recorded, set or on a wire.");
        }
        return name;
    }

    Expectations.Condition condition(String text) {
        List<String> used = new ArrayList<>();
        try {
            Live live = Formula.live(text, variables, name -> {
                Live found = signals.find(name);
                if (found != null && signals.has(name) && !used.contains(name)) {
                    used.add(name);
                }
                return found;
            });
            if (live.dimension() != null && !live.dimension().isNone()) {
                throw new IllegalArgumentException("'" + text + "' is " + live.dimension().label() + ", not a condition.");
            }
            return new Expectations.Condition(text, live, used);
        } catch (FormulaException e) {
            throw wrong(text, e);
        }
    }

    private Act expect(Step.Expect s) {
        var c = condition(s.condition());
        if (s.within().isEmpty()) {
            if (!s.after().isEmpty()) {
                throw new IllegalArgumentException("'after' needs 'within', the longest time from then on.");
            }
            return Expectations.now(c, nanosOr0(s.lasting()));
        }
        return Expectations.within(c, nanosOr0(s.lasting()), nanos(s.within()), s.after().isEmpty() ? null : condition(s.after()), false);
    }

    private Act apply(Step.Apply s) {
        String unit = Addresses.tunable(system, s.address()).tunable().slot().unit();
        return Changes.drive(s.address(), Waves.of(s.shape()).made(new Waves.Values() {
                @Override
                public double value(String word) {
                    String text = s.values().getOrDefault(word, "");
                    return text.isEmpty() ? 0 : word.equals("of") ? difference(text, unit) : Resolver.this.value(text, unit);
                }

                @Override
                public double hertz(String word) {
                    return Resolver.this.value(s.values().get(word), "Hz");
                }

                @Override
                public double seconds(String word) {
                    return nanos(s.values().get(word)) / 1e9;
                }

                @Override
                public int count(String word) {
                    return (int) Resolver.this.value(s.values().get(word), "");
                }
            }));
    }

    private Act measure(Step.Measure s) {
        String name = signal(s.signal());
        String unit = signals.unit(name);
        double from = s.figure().isOfStep() ? value(s.from(), unit) : 0;
        double to = s.figure().isOfStep() ? value(s.to(), unit) : 0;
        if (s.figure().isOfStep() && from == to) {
            throw new IllegalArgumentException("A step needs two different levels.");
        }
        double[] figure = new double[1];
        String shownIn = s.figure().unit().orElse(unit);
        Live judged;
        try {
            judged = Formula.live("figure " + s.comparison(), variables, n -> n.equals("figure") ? new Live(() -> figure[0],
                    shownIn.isEmpty() ? null : Dimension.of(shownIn).orElse(null)) : null);
        } catch (FormulaException e) {
            throw wrong(s.comparison(), e);
        }
        return Expectations.gathered(name, nanos(s.over()), series -> {
            figure[0] = s.figure().of(series, from, to);
            String words = s.figure().label() + " = " + Signals.shown(figure[0], shownIn);
            return judged.now() != 0 ? Look.passed(words) : Look.failed(words);
        });
    }

    private void wire(String address) {
        Wires.at(system, address, Place.named(address));
    }

    FaultText fault(Step.Insert s) {
        var words = FaultWords.labelled(s.fault());
        words.required().stream().filter(w -> !s.values().containsKey(w)).findFirst().ifPresent(w -> {
            throw new IllegalArgumentException("The fault '" + words.label() + "' needs '" + w + "' and a value.");
        });
        boolean ofPart = words.place() == FaultWords.Place.PROCESSOR;
        String unit = "";
        if (ofPart) {
            if (system.program(s.address()).isEmpty()) {
                throw new IllegalArgumentException("'" + s.address() + "' is not a part, but '" + words.label()
                        + "' is a fault of a part.");
            }
        } else {
            unit = Wires.at(system, s.address(), Place.named(s.address())).getFirst().to().slot().unit();
        }
        WireFault fault = words.made(new FaultValues(s, unit));
        if (!fault.other().isEmpty()) {
            wire(fault.other());
        }
        if (s.values().containsKey("every")) {
            long every = positive(nanos(s.values().get("every")), s.values().get("every"));
            String lasting = s.values().getOrDefault("lasting", "");
            if (lasting.isEmpty() || nanos(lasting) >= every) {
                throw new IllegalArgumentException("A fault that comes and goes needs 'lasting', shorter than 'every'.");
            }
            fault = fault.intermittent(every / 1e9, nanos(lasting) / 1e9);
        }
        return new FaultText(s.address(), fault, nanosOr0(s.lasting()));
    }

    private final class FaultValues implements FaultWords.Values {
        private final Step.Insert step;
        private final String unit;

        FaultValues(Step.Insert step, String unit) {
            this.step = step;
            this.unit = unit;
        }

        @Override
        public double value(String word) {
            String text = text(word);
            return text.isEmpty() ? 0 : word.equals("at") ? Resolver.this.value(text, unit) : signed(text);
        }

        /** An offset may be below 0. */
        private double signed(String text) {
            return text.startsWith("-") || text.startsWith("−") ? -difference(text.substring(1), unit) : difference(text, unit);
        }

        @Override
        public double share(String word) {
            var q = valueIfAny(text(word)).orElseThrow(() -> new IllegalArgumentException("'" + text(word)
                    + "' is not a share, such as 20 %."));
            if (!q.isBare() && !q.dimension().isNone()) {
                throw new IllegalArgumentException("'" + text(word) + "' is " + q.dimension().label() + ", but a share is a pure number.");
            }
            return q.value();
        }

        @Override
        public double seconds(String word) {
            return text(word).isEmpty() ? 0 : nanos(text(word)) / 1e9;
        }

        @Override
        public String text(String word) {
            return step.values().getOrDefault(word, "");
        }
    }

    /** A column of a recorded course, in SI; the first column has the times. */
    private Series course(String name, String signal) {
        String text = set.course(name).orElseThrow(() -> new IllegalArgumentException("There is no recorded course '" + name
                + ".csv' beside the trial."));
        return Course.read(name, text, signal, signals.unit(signal));
    }
}
