package boldanvil.core.control;

import boldanvil.core.finding.FindingException;
import java.util.Arrays;

/** Faults that a stand-in can play while an image is put on it. */
public enum DeviceFault {
    NONE("none"),
    /** Nobody answers. */
    UNPLUGGED("unplugged"),
    /** Another board answers. */
    WRONG_IDENTITY("wrong identity"),
    /** What is read back is not what was written. */
    VERIFY("verify failure"),
    /** Every command is put off. */
    BUSY("busy link"),
    /** The supply breaks down half way through the download. */
    BROWN_OUT("brown-out");

    private final String label;

    DeviceFault(String label) {
        this.label = label;
    }

    public String label() {
        return label;
    }

    /** The fault with a label; a finding at the place where it was asked for when there is none. */
    public static DeviceFault labelled(String place, String label) {
        for (DeviceFault f : values()) {
            if (f.label.equals(label)) {
                return f;
            }
        }
        throw FindingException.of(place, "There is no simulated fault '" + label + "'.", "Faults are: "
                + String.join(", ", Arrays.stream(values()).map(DeviceFault::label).toList()) + ".");
    }
}
