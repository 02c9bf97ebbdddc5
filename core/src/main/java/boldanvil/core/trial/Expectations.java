package boldanvil.core.trial;

import boldanvil.core.quantity.Live;
import boldanvil.core.samples.Series;
import java.math.BigDecimal;
import java.util.Arrays;
import java.util.List;
import java.util.function.Function;

/** Steps that look at the rig. Times are nanoseconds of simulated time. */
final class Expectations {
    /** Most samples a figure is computed from. */
    private static final int MOST_SAMPLES = 5_000_000;

    private Expectations() {}

    /** A condition and the signals in it. */
    record Condition(String text, Live live, List<String> signals) {
        boolean holds() {
            return live.now() != 0;
        }
    }

    private abstract static class Looking extends Act {
        private final List<String> signals;
        long from;

        Looking(List<String> signals) {
            this.signals = signals;
        }

        @Override
        final List<String> signals() {
            return signals;
        }

        @Override
        void begin(long now, Stage stage) {
            from = now;
        }

        final String seen(Stage stage) {
            return stage.signals().shown(signals);
        }
    }

    private static String seconds(long nanos) {
        return BigDecimal.valueOf(nanos, 9).stripTrailingZeros().toPlainString() + " s";
    }

    /** A condition holds now, or for a time from now on. */
    static Act now(Condition c, long lasting) {
        return new Looking(c.signals()) {
            @Override
            Look look(long now, Stage stage) {
                if (!c.holds()) {
                    return Look.failed(seen(stage) + (now > from ? ", after it had held for " + seconds(now - from) : ""));
                }
                return now - from >= lasting ? Look.passed(seen(stage)) : null;
            }
        };
    }

    /**
     * A condition comes true within a time and stays so for another.
     *
     * @param after what must come true before the time counts; null for nothing
     * @param decisive whether the trial ends where it does not
     */
    static Act within(Condition c, long lasting, long within, Condition after, boolean decisive) {
        return new Looking(after == null ? c.signals() : joined(c, after)) {
            private boolean counts = after == null;
            private long since = -1;

            @Override
            boolean isDecisive() {
                return decisive;
            }

            @Override
            Look look(long now, Stage stage) {
                if (!counts) {
                    if (!after.holds()) {
                        return null;
                    }
                    counts = true;
                    from = now;
                }
                since = !c.holds() ? -1 : since < 0 ? now : since;
                if (since >= 0 && now - since >= lasting) {
                    String words = "after " + seconds(since - from) + ": " + seen(stage);
                    return decisive ? new Look(StepResult.State.DONE, words) : Look.passed(words);
                }
                // What has come true in time may still have to last.
                return now - from >= within && (since < 0 || since - from > within)
                        ? Look.failed("not within " + seconds(within) + ": " + seen(stage)) : null;
            }

            @Override
            Look atEnd() {
                return counts ? super.atEnd() : Look.failed("'" + after.text() + "' did not come true.");
            }
        };
    }

    private static List<String> joined(Condition a, Condition b) {
        return java.util.stream.Stream.concat(a.signals().stream(), b.signals().stream()).distinct().toList();
    }

    /** A condition always or never holds, while other steps go on. */
    static Act watch(Condition c, boolean never, long lasting) {
        return new Looking(c.signals()) {
            @Override
            boolean isInBackground() {
                return true;
            }

            @Override
            Look look(long now, Stage stage) {
                if (c.holds() == never) {
                    return Look.failed((never ? "It held at " : "It did not hold at ") + seconds(now) + ": " + seen(stage));
                }
                return lasting > 0 && now - from >= lasting ? Look.passed("for " + seconds(now - from)) : null;
            }

            @Override
            Look atEnd() {
                return lasting > 0 ? super.atEnd() : Look.passed("to the end");
            }
        };
    }

    /** Conditions come true one after the other, or several at the same instant. */
    static Act order(List<Condition> all, long within) {
        return new Looking(all.stream().flatMap(c -> c.signals().stream()).distinct().toList()) {
            private final boolean[] held = new boolean[all.size()];
            private int next;

            @Override
            void begin(long now, Stage stage) {
                super.begin(now, stage);
                for (int i = 0; i < held.length; i++) {
                    held[i] = all.get(i).holds();
                }
            }

            /** Whether a condition stands a second time, so that it may hold now by its first turn. */
            private boolean isSameAsBefore(int i) {
                return all.subList(0, i).stream().anyMatch(c -> c.text().equals(all.get(i).text()));
            }

            @Override
            Look look(long now, Stage stage) {
                int early = -1;
                for (int i = next; i < held.length; i++) {
                    boolean holds = all.get(i).holds();
                    if (holds && !held[i] && i == next) {
                        next++;
                    } else if (holds && !held[i] && !isSameAsBefore(i)) {
                        early = i;
                    }
                    held[i] = holds;
                }
                if (early >= 0) {
                    return Look.failed("'" + all.get(early).text() + "' came before '" + all.get(next).text() + "'.");
                }
                return next == held.length ? Look.passed("after " + seconds(now - from)) : now - from >= within
                        ? Look.failed("'" + all.get(next).text() + "' did not come true within " + seconds(within) + ".") : null;
            }
        };
    }

    /** Gathers a signal for a time and judges it then. */
    static Act gathered(String signal, long lasting, Function<Series, Act.Look> judge) {
        return new Looking(List.of(signal)) {
            private double[] times = new double[1024];
            private double[] values = new double[1024];
            private int n;

            @Override
            Look look(long now, Stage stage) {
                if (n == MOST_SAMPLES) {
                    return Look.failed("There are more than " + MOST_SAMPLES + " samples; choose a shorter time.");
                }
                if (n == times.length) {
                    times = Arrays.copyOf(times, 2 * n);
                    values = Arrays.copyOf(values, 2 * n);
                }
                times[n] = now / 1e9;
                values[n++] = stage.signals().value(signal);
                return now - from < lasting ? null : judge.apply(new Series(signal, "", Arrays.copyOf(times, n), Arrays.copyOf(values, n)));
            }
        };
    }

    /** @param margin by how much it may go back, SI */
    static Act trend(String signal, boolean rising, double margin, long lasting) {
        return new Looking(List.of(signal)) {
            private double first = Double.NaN;
            private double furthest;

            @Override
            Look look(long now, Stage stage) {
                double v = stage.signals().value(signal) * (rising ? 1 : -1);
                if (Double.isNaN(first)) {
                    first = v;
                    furthest = v;
                }
                furthest = Math.max(furthest, v);
                if (!(v >= furthest - margin)) {
                    return Look.failed("It turned after " + seconds(now - from) + ": " + seen(stage));
                }
                return now - from < lasting ? null : furthest > first ? Look.passed(seen(stage))
                        : Look.failed("It did not change: " + seen(stage));
            }
        };
    }

    /** A signal stays within a tolerance of a recorded course that begins now. */
    static Act like(String signal, Series reference, double tolerance, long lasting) {
        return new Looking(List.of(signal)) {
            private double worst;

            @Override
            Look look(long now, Stage stage) {
                double v = stage.signals().value(signal);
                double off = Math.abs(v - course(reference, (now - from) / 1e9));
                worst = Math.max(worst, off);
                String unit = stage.signals().unit(signal);
                if (!(off <= tolerance)) {
                    return Look.failed("It is off by " + Signals.shown(off, unit) + " after " + seconds(now - from) + ": " + seen(stage));
                }
                return now - from < lasting ? null : Look.passed("off by at most " + Signals.shown(worst, unit));
            }
        };
    }

    /** A recorded course some time after its beginning; its last value once it is over. */
    private static double course(Series s, double seconds) {
        return s.at(Math.clamp(s.times()[0] + seconds, s.times()[0], s.times()[s.size() - 1]));
    }
}
