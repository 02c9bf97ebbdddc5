package boldanvil.core.trial;

import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.trial.StepResult.State;
import java.util.Map;

/** Steps that change the rig. */
final class Changes {
    private Changes() {}

    /** A change that is made at once. */
    private abstract static class AtOnce extends Act {
        @Override
        boolean changes() {
            return true;
        }

        @Override
        Look look(long now, Stage stage) {
            return Look.DONE;
        }
    }

    static Act set(Map<String, Double> values) {
        return new AtOnce() {
            @Override
            void begin(long now, Stage stage) {
                stage.conductor().set(values);
            }
        };
    }

    static Act drive(String address, Stimulus stimulus) {
        return new AtOnce() {
            @Override
            void begin(long now, Stage stage) {
                stage.conductor().drive(address, stimulus);
            }
        };
    }

    static Act release(String address) {
        return new AtOnce() {
            @Override
            void begin(long now, Stage stage) {
                stage.conductor().release(address);
            }
        };
    }

    /** @param nanos how long the fault stays; 0 for until it is cleared */
    static Act insert(String address, WireFault fault, long nanos) {
        return new AtOnce() {
            @Override
            void begin(long now, Stage stage) {
                stage.conductor().insert(address, fault);
                if (nanos > 0) {
                    stage.clearAt(now + nanos, address);
                }
            }
        };
    }

    static Act clear(String address) {
        return new AtOnce() {
            @Override
            void begin(long now, Stage stage) {
                stage.conductor().clear(address);
            }
        };
    }

    static Act ramp(String address, double to, long nanos) {
        return new Act() {
            private long from;

            @Override
            boolean changes() {
                return true;
            }

            @Override
            void begin(long now, Stage stage) {
                from = now;
                stage.conductor().drive(address, Stimulus.ramp(stage.signals().value(address), to, nanos / 1e9, false));
            }

            @Override
            Look look(long now, Stage stage) {
                return now - from >= nanos ? Look.DONE : null;
            }
        };
    }

    static Act waiting(long nanos) {
        return new Act() {
            private long from;

            @Override
            void begin(long now, Stage stage) {
                from = now;
            }

            @Override
            Look look(long now, Stage stage) {
                return now - from >= nanos ? Look.DONE : null;
            }
        };
    }

    static Act ask(String question) {
        return new Act() {
            @Override
            Look look(long now, Stage stage) {
                return stage.operator().answer(question).map(yes -> yes ? Look.passed("The answer was yes.")
                        : Look.failed("The answer was no.")).orElse(new Look(State.UNANSWERED, "Nobody answered."));
            }
        };
    }
}
