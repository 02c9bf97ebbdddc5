package boldanvil.core.trial;

import boldanvil.core.diagram.Project;
import boldanvil.core.instance.Instance;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.quantity.Variables;
import boldanvil.core.simulate.Conductor;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A trial that is played on a rig in this process: the play and who attends it. */
public final class Playing {
    private final Performance performance;
    private final Attendant attendant;

    private Playing(Performance performance, Attendant attendant) {
        this.performance = performance;
        this.attendant = attendant;
    }

    /**
     * What a rig is to play.
     *
     * @param trial its name in the project
     * @param answers to its questions, given beforehand
     * @param attended whether somebody answers other questions
     */
    public record Order(String trial, Map<String, Boolean> answers, boolean attended) {
        public Order {
            answers = Map.copyOf(answers);
        }
    }

    /**
     * How far a trial is.
     *
     * @param question that waits for an answer; empty for none
     */
    public record Progress(List<StepResult> steps, String question) {
        /** Nothing is played. */
        public static final Progress NONE = new Progress(List.of(), "");

        public Progress {
            steps = List.copyOf(steps);
        }
    }

    /**
     * Has a conductor play a trial from its first tick on.
     *
     * @throws boldanvil.core.finding.FindingException when the trial does not fit the rig
     */
    public static Playing begin(Project project, LoweredSystem system, Map<String, Instance> instances, Conductor conductor, Order order) {
        var plan = TrialPlan.of(new TrialSet(project.trials()), order.trial(), Variables.resolve(project.variableTexts()).values(), system,
                instances);
        var attendant = new Attendant(order.answers(), order.attended(), conductor::serve);
        var performance = new Performance(plan, conductor, attendant);
        conductor.direct(performance);
        return new Playing(performance, attendant);
    }

    /** The run has ended; what is not decided yet stays so. */
    public void ended(double seconds) {
        performance.aborted(seconds, "The run ended before.");
    }

    /** Answers the question that waits. */
    public void answer(boolean yes) {
        attendant.give(yes);
    }

    /** Nobody answers any more. */
    public void leave() {
        attendant.leave();
    }

    public Progress progress() {
        return new Progress(performance.results(), Optional.of(attendant).flatMap(Attendant::question).orElse(""));
    }
}
