package boldanvil.app.model;

import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.peripheral.Fact;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.review.Review;
import boldanvil.core.target.ChannelKind;
import boldanvil.core.target.Crossing;
import boldanvil.core.target.MappingCheck;
import boldanvil.core.target.MappingPlan;
import boldanvil.core.target.TargetChannel;
import boldanvil.core.target.TargetPart;
import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;

/**
 * The parts a rig puts on targets, with their signals, as tables.
 *
 * @param signals wires that leave a target
 * @param seats where each part runs
 */
public record TargetMapping(Project project, Rig rig, List<Signal> signals, List<Seat> seats) {
    /** Columns of a signal that can be edited. */
    public enum Column { CHANNEL, SCALE, OFFSET, MINIMUM, MAXIMUM, FILTER, LINES, MEAN, WIRE }

    /** Columns of a seat that can be edited. */
    public enum Setting { TARGET, CORE, STEP, OVERRUN, BUDGET }

    /** Name of the target a part gets that is put on one. */
    private static final String USUAL_TARGET = "target";
    private static final String STEP_MEAN = "mean of the step";
    private static final String PERIOD_DUTY = "duty of the period";

    /** @param problem what is wrong with it; empty for nothing */
    public record Signal(String part, Crossing crossing, Mapping.Row row, Optional<TargetChannel> channel, String problem) {
        public String name() {
            return crossing.port().name();
        }

        public String kind() {
            return crossing.kind().map(ChannelKind::label).orElse("none");
        }

        public String wiredTo() {
            return crossing.farPart() + "." + crossing.far().name();
        }

        private boolean isAnalog() {
            return crossing.kind().filter(ChannelKind::isAnalog).isPresent();
        }

        /** Whether a column has a meaning for a signal of this kind. */
        public boolean has(Column column) {
            return switch (column) {
                case CHANNEL, WIRE -> true;
                case SCALE, OFFSET, MINIMUM, MAXIMUM -> isAnalog();
                case FILTER -> crossing.kind().filter(k -> k == ChannelKind.ANALOG_IN).isPresent();
                case LINES -> crossing.kind().filter(ChannelKind::isEncoder).isPresent();
                case MEAN -> crossing.kind().filter(k -> k == ChannelKind.PWM_IN).isPresent();
            };
        }

        public String text(Column column) {
            if (!has(column)) {
                return "";
            }
            return switch (column) {
                case CHANNEL -> row.channel();
                case SCALE -> plain(row.scale());
                case OFFSET -> plain(row.offset());
                case MINIMUM -> limit(row.minimum(), -1);
                case MAXIMUM -> limit(row.maximum(), 1);
                case FILTER -> row.filterHertz() == 0 ? "none" : plain(row.filterHertz());
                case LINES -> plain(row.lines());
                case MEAN -> row.mean() == Mapping.Mean.STEP ? STEP_MEAN : PERIOD_DUTY;
                case WIRE -> row.wire();
            };
        }

        private String limit(double volts, int sign) {
            return plain(Double.isFinite(volts) ? volts : sign * channel.map(c -> c.group().volts()).orElse(0.0));
        }

        /** The least difference that passes its channel, with its unit. */
        public String resolution(double stampSeconds) {
            if (channel.isEmpty()) {
                return "";
            }
            return switch (channel.get().kind()) {
                case ANALOG_IN, ANALOG_OUT -> Fact.sig(Math.abs(channel.get().voltsPerCount() / row.scale()) * 1e6) + " µ"
                        + (crossing.port().slot().unit().isEmpty() ? "V" : crossing.port().slot().unit());
                case ENCODER_IN, ENCODER_OUT -> row.lines() > 0 ? Fact.sig(2 * Math.PI / 4 / row.lines() * 1e3) + " mrad" : "";
                case PWM_IN, PWM_OUT -> Fact.sig(stampSeconds * 1e9) + " ns";
                case DIGITAL_IN, DIGITAL_OUT, SERIAL, CAN, PACKETS -> "";
            };
        }
    }

    /**
     * A part on its core.
     *
     * @param coreLoad load of the core by all parts on it
     */
    public record Seat(TargetPart part, double coreLoad) {
        public String text(Setting setting) {
            var seat = part.seat();
            return switch (setting) {
                case TARGET -> seat.target();
                case CORE -> Integer.toString(seat.core());
                case STEP -> seat.step().isEmpty() ? "its own" : seat.step();
                case OVERRUN -> seat.overrun().label();
                case BUDGET -> part.mapping().budgetSeconds() == 0 ? "none" : plain(part.mapping().budgetSeconds() * 1e6);
            };
        }
    }

    public TargetMapping {
        signals = List.copyOf(signals);
        seats = List.copyOf(seats);
    }

    /** Choices of a column. */
    public static List<String> means() {
        return List.of(STEP_MEAN, PERIOD_DUTY);
    }

    /** The tables of a rig; empty ones where the project cannot be run. */
    public static TargetMapping of(Project project, Rig rig) {
        var system = LoweredSystem.of(project.as(rig));
        List<Signal> signals = new ArrayList<>();
        List<TargetPart> parts = new ArrayList<>();
        if (system.hasErrors()) {
            return new TargetMapping(project, rig, signals, List.of());
        }
        List<Finding> findings = MappingCheck.check(project, system, rig);
        for (String name : rig.onTargets()) {
            if (Boards.of(project).target(rig.place(name).device()).isEmpty() || system.program(name).isEmpty()) {
                continue;
            }
            var part = TargetPart.of(project, system, rig, name);
            parts.add(part);
            for (Crossing c : Crossing.of(system, rig, name)) {
                var row = part.mapping().rowOf(c.port().name());
                signals.add(new Signal(name, c, row, TargetChannel.find(part.board(), row.channel()), findings.stream()
                        .filter(f -> f.place().equals(Place.mapping(name, c.port().name()))).map(f -> f.cause() + " " + f.cure())
                        .findFirst().orElse("")));
            }
        }
        Map<String, Double> loads = TargetPart.coreLoads(parts);
        return new TargetMapping(project, rig, signals, parts.stream().map(p -> new Seat(p, loads.get(p.seat().coreText()))).toList());
    }

    /** Channels of the kind a signal needs that nothing else uses, and its own. */
    public List<String> free(Signal s) {
        var part = seats.stream().filter(x -> x.part().name().equals(s.part())).findFirst().orElseThrow().part();
        return TargetChannel.of(part.board()).stream().filter(c -> s.crossing().kind().filter(c.kind()::serves).isPresent())
                .map(TargetChannel::id).filter(id -> id.equals(s.row().channel()) || signals.stream().noneMatch(o -> o.row().channel()
                        .equals(id) && rig.place(o.part()).seat().target().equals(part.seat().target()))).toList();
    }

    /**
     * The project with another text in a column of a signal.
     *
     * @throws FindingException when the text is not what the column takes
     */
    public static UnaryOperator<Project> edited(TargetPart part, Signal s, Column column, String text) {
        var row = s.row();
        var at = Place.mapping(s.part(), s.name());
        var next = switch (column) {
            case CHANNEL -> row.on(text.strip());
            case SCALE -> row.scaled(number(at, text), row.offset());
            case OFFSET -> row.scaled(row.scale(), number(at, text));
            case MINIMUM -> row.within(number(at, text), row.maximum());
            case MAXIMUM -> row.within(row.minimum(), number(at, text));
            case FILTER -> row.filtered(text.isBlank() || text.strip().equals("none") ? 0 : positive(at, text));
            case LINES -> row.withLines(positive(at, text));
            case MEAN -> row.with(text.equals(PERIOD_DUTY) ? Mapping.Mean.PERIOD : Mapping.Mean.STEP);
            case WIRE -> row.wired(text.strip());
        };
        return p -> p.withMapping(s.part(), p.mappings().getOrDefault(s.part(), part.mapping()).with(next));
    }

    /**
     * The project with another setting of a seat.
     *
     * @throws FindingException when the text is not what the setting takes
     */
    public UnaryOperator<Project> edited(Seat s, Setting setting, String text) {
        var seat = s.part().seat();
        String name = s.part().name();
        var at = Place.rig(rig.name(), name);
        if (setting == Setting.BUDGET) {
            double seconds = text.isBlank() || text.strip().equals("none") ? 0 : positive(at, text) / 1e6;
            return p -> p.withMapping(name, p.mappings().getOrDefault(name, s.part().mapping()).withBudget(seconds));
        }
        var next = switch (setting) {
            case TARGET -> {
                if (!text.strip().matches("[a-z][a-z0-9_-]{0,31}")) {
                    throw FindingException.of(at, "'" + text.strip() + "' is not a name of a target.",
                            "Use up to 32 small letters, digits, - and _, beginning with a letter.");
                }
                yield new Rig.Seat(text.strip(), seat.core(), seat.overrun(), seat.step());
            }
            case CORE -> new Rig.Seat(seat.target(), (int) positive(at, text), seat.overrun(), seat.step());
            case STEP -> new Rig.Seat(seat.target(), seat.core(), seat.overrun(), step(at, text));
            default -> new Rig.Seat(seat.target(), seat.core(), Rig.Overrun.valueOf(text.toUpperCase(Locale.ROOT)), seat.step());
        };
        return placed(name, new Rig.Place(s.part().board().name(), next));
    }

    private UnaryOperator<Project> placed(String part, Rig.Place place) {
        return p -> p.withRigs(p.rigs().stream().map(r -> r.name().equals(rig.name()) ? r.with(part, place) : r).toList());
    }

    /** A place for a part on a target: the first core that no other part has, and the shortest step where its own is shorter. */
    public static Rig.Place seated(Review review, Rig rig, String part, String device) {
        var target = Boards.of(review.project()).require(Place.rig(rig.name(), part), device).target();
        int core = 1;
        while (core < target.cores() && isTaken(rig, part, core)) {
            core++;
        }
        boolean quick = review.system().program(part).filter(x -> x.continuous() && x.tickNanos() < target.leastStepNanos()).isPresent();
        return new Rig.Place(device, new Rig.Seat(USUAL_TARGET, core, Rig.Overrun.STOP, quick ? plain(target.leastStepNanos() / 1e3) + " us"
                : ""));
    }

    private static boolean isTaken(Rig rig, String part, int core) {
        return rig.onTargets().stream().anyMatch(p -> !p.equals(part) && rig.place(p).seat().core() == core
                && rig.place(p).seat().target().equals(USUAL_TARGET));
    }

    /** The project with a channel for each signal that has none; as it is where it cannot be run. */
    public static Project assigned(Project project, Rig rig) {
        var system = LoweredSystem.of(project.as(rig));
        Project next = project;
        for (String part : system.hasErrors() ? List.<String>of() : rig.onTargets()) {
            var board = Boards.of(project).target(rig.place(part).device());
            if (board.isPresent() && !Crossing.of(system, rig, part).isEmpty()) {
                next = next.withMapping(part, MappingPlan.assigned(next, system, rig, part, board.get()));
            }
        }
        return next;
    }

    /** A number as it can be typed again. */
    private static String plain(double v) {
        return BigDecimal.valueOf(v).round(new MathContext(12)).stripTrailingZeros().toPlainString();
    }

    private static String step(Place at, String text) {
        String step = text.strip();
        if (step.isEmpty() || step.equals("its own")) {
            return "";
        }
        try {
            if (Formula.evaluate(step, Map.of(), "s") > 0 && step.length() <= 40) {
                return step;
            }
        } catch (FormulaException e) {
            throw FindingException.of(at, "'" + step + "' is not a time: " + e.getMessage(), "Write it like 25 us.");
        }
        throw FindingException.of(at, "A step must be longer than 0.", "Write it like 25 us.");
    }

    private static double number(Place at, String text) {
        try {
            double v = Double.parseDouble(text.strip());
            if (Double.isFinite(v)) {
                return v;
            }
        } catch (NumberFormatException e) {
            // Reported below.
        }
        throw FindingException.of(at, "'" + text.strip() + "' is not a number.", "Write it like 2.5.");
    }

    private static double positive(Place at, String text) {
        double v = number(at, text);
        if (v > 0) {
            return v;
        }
        throw FindingException.of(at, "The value must be greater than 0.", "Write it like 512.");
    }
}
