package boldanvil.core.text;

import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The whole program of a PLC, compiled from its text: configuration, tasks, programs, and what they declare.
 *
 * @param name of the configuration, or of the first program
 * @param program one procedure for each use of a program in a task; null where the text has errors
 * @param image what lies outside the text: process image, time and the budget of loops
 * @param tasks in the order of the text
 * @param variables every single value that keeps from scan to scan, constants left out
 * @param beginnings initial values of variables at addresses, by path; those of all others are in their slots
 */
public record PlcProgram(String name, Program program, Image image, List<Task> tasks, List<Variable> variables, Map<String,
        Double> beginnings,
        List<Mistake> mistakes) {
    /**
     * Slots that the PLC itself serves.
     *
     * @param inputs bytes of the inputs
     * @param outputs bytes of the outputs
     * @param memory bytes with an address of their own
     * @param now time at which the scan began, in seconds
     * @param firstScan whether this is the first scan since the program was started
     * @param budget rounds that all loops of a task may still take together
     */
    public record Image(Slot inputs, Slot outputs, Slot memory, Slot now, Slot firstScan, Slot budget) {
        /** The bytes an address lies in. */
        public Slot area(char letter) {
            return switch (letter) {
                case 'I' -> inputs;
                case 'Q' -> outputs;
                default -> memory;
            };
        }
    }

    /**
     * A task.
     *
     * @param intervalNanos time between two releases; 0 for a task that an event releases, or that runs whenever nothing else does
     * @param trigger whose rising edge releases it; null for none
     * @param priority 0 is the most urgent
     * @param runs procedures, in their order
     */
    public record Task(String name, long intervalNanos, Variable trigger, int priority, List<String> runs) {
        public Task {
            runs = List.copyOf(runs);
        }

        /** Whether it runs whenever nothing else does. */
        public boolean isFree() {
            return intervalNanos == 0 && trigger == null;
        }
    }

    /**
     * A single value.
     *
     * @param path such as {@code Sequence.gate.position} or {@code levels[3]}
     * @param type as it was declared
     * @param carried the type of the IR
     * @param slot where it lies
     * @param element which element of the slot; of a text, its first character
     * @param bit for a value at an address, number of its first bit in the slot; else -1
     * @param capacity for a text, the most characters it has; else 0
     * @param retained whether it survives when the power is off
     * @param address as it was declared; empty for none
     * @param choices of an enumeration, numbers by name; else empty
     */
    public record Variable(String path, String type, Type carried, Slot slot, int element, int bit, int capacity, boolean retained,
            String address, Map<String, Long> choices) {
        public Variable {
            choices = Map.copyOf(choices);
        }

        /** Whether it is memory of the language and not declared by anyone. */
        public boolean isInternal() {
            return path.contains("$");
        }

        public boolean isText() {
            return capacity > 0;
        }
    }

    public PlcProgram {
        tasks = List.copyOf(tasks);
        variables = List.copyOf(variables);
        beginnings = Map.copyOf(beginnings);
        mistakes = List.copyOf(mistakes);
    }

    /**
     * What there is around a program.
     *
     * @param inputBytes size of the process image of the inputs
     * @param outputBytes size of that of the outputs
     * @param memoryBytes size of the memory with addresses
     * @param intervalNanos of the task of programs that no configuration names
     * @param loopRounds how many rounds all loops of a task may take together
     */
    public record Surroundings(int inputBytes, int outputBytes, int memoryBytes, long intervalNanos, int loopRounds) {
        /** Those of a text that is only looked at. */
        public static final Surroundings USUAL = new Surroundings(256, 256, 8_192, 10_000_000, 1_000_000);
    }

    /** Compiles a text; what is wrong is among the mistakes. */
    public static PlcProgram of(String text, Surroundings around) {
        return new PlcCompilation(ParsedText.application(text), around).compile();
    }

    public boolean isUsable() {
        return program != null && mistakes.stream().allMatch(Mistake::isWarning);
    }

    /** The variable with a path; capital and small letters are the same. */
    public Optional<Variable> variable(String path) {
        return variables.stream().filter(v -> v.path().equalsIgnoreCase(path)).findFirst();
    }
}
