package boldanvil.core.runs;

import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.user.Log;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What made a run, and what people say of it.
 *
 * @param started when, ISO 8601
 * @param seconds how long it is, simulated time
 * @param step base sample time in seconds; 0 where it is not known
 * @param devices where each part ran, for people, by part
 * @param images SHA-256 of each image by part
 * @param changes live and planned changes, as text
 * @param findings what went wrong or was reported while it ran, as text
 * @param name given by someone; empty for none
 * @param remark given by someone; empty for none
 * @param whole whether it was ended, and not cut off
 * @param interventions what took effect on tunables, in order; from the same start they make the same run
 */
public record RunNote(String rig, String started, double seconds, double step, Map<String, String> devices, Map<String, String> images,
        List<String> changes, List<String> findings, String name, String remark, boolean starred, boolean whole,
        List<Intervention> interventions) {
    /** A change as runs of older versions have it, as text alone. */
    private static final Pattern CHANGE = Pattern.compile("(\\S+) = (\\S+) at (\\S+) s");

    public RunNote {
        rig = rig == null ? "" : rig;
        started = started == null ? "" : started;
        devices = devices == null ? Map.of() : Map.copyOf(devices);
        images = images == null ? Map.of() : Map.copyOf(images);
        changes = changes == null ? List.of() : List.copyOf(changes);
        findings = findings == null ? List.of() : List.copyOf(findings);
        name = name == null ? "" : name;
        remark = remark == null ? "" : remark;
        interventions = interventions == null ? parsed(changes) : List.copyOf(interventions);
    }

    private static List<Intervention> parsed(List<String> changes) {
        List<Intervention> all = new ArrayList<>();
        for (String c : changes) {
            Matcher m = CHANGE.matcher(c);
            if (m.matches()) {
                try {
                    all.add(Intervention.set(new Change(m.group(1), Double.parseDouble(m.group(2)),
                            Math.round(Double.parseDouble(m.group(3)) * 1e9))));
                } catch (NumberFormatException e) {
                    Log.ignored(RunNote.class, e, "A change of a run has no value.");
                }
            }
        }
        return all;
    }

    /** A run that begins. */
    public static RunNote beginning(String rig, String started, double step, Map<String, String> devices, Map<String, String> images) {
        return new RunNote(rig, started, 0, step, devices, images, List.of(), List.of(), "", "", false, false, List.of());
    }

    /** The same run, at its end. */
    public RunNote ended(double length, List<String> all, List<String> problems) {
        return new RunNote(rig, started, length, step, devices, images, all, problems, name, remark, starred, true, interventions);
    }

    /** The same run, with what is needed to repeat it. */
    RunNote repeatable(List<Intervention> all) {
        return new RunNote(rig, started, seconds, step, devices, images, changes, findings, name, remark, starred, whole, all);
    }

    public RunNote named(String text) {
        return new RunNote(rig, started, seconds, step, devices, images, changes, findings, text, remark, starred, whole, interventions);
    }

    public RunNote remarked(String text) {
        return new RunNote(rig, started, seconds, step, devices, images, changes, findings, name, text, starred, whole, interventions);
    }

    public RunNote starred(boolean on) {
        return new RunNote(rig, started, seconds, step, devices, images, changes, findings, name, remark, on, whole, interventions);
    }

    RunNote lasting(double length) {
        return new RunNote(rig, started, length, step, devices, images, changes, findings, name, remark, starred, whole, interventions);
    }

    /** When it was started, for people: UTC, to the second. */
    public String startedAt() {
        return started.replace('T', ' ').replaceAll("(\\.\\d+)?Z", "");
    }

    /** What people call it: its name, or its rig. */
    public String title() {
        return name.isEmpty() ? rig : name;
    }

    /** Whether each of some words is in what is known of the run. */
    public boolean matches(String words) {
        String all = String.join(" ", rig, started, name, remark, String.join(" ", devices.values()), String.join(" ", changes))
                .toLowerCase(java.util.Locale.ROOT);
        return java.util.Arrays.stream(words.toLowerCase(java.util.Locale.ROOT).strip().split("\\s+")).allMatch(all::contains);
    }
}
