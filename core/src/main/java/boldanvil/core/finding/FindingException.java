package boldanvil.core.finding;

import java.util.List;
import java.util.stream.Collectors;

/** Stops a piece of work with findings that can be shown as they are. */
public final class FindingException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final transient List<Finding> findings;

    public FindingException(Finding finding) {
        this(List.of(finding));
    }

    /** @param findings at least one */
    public FindingException(List<Finding> findings) {
        super(findings.stream().map(Finding::toString).collect(Collectors.joining("\n")));
        this.findings = List.copyOf(findings);
    }

    public static FindingException of(Place place, String cause, String cure) {
        return new FindingException(Finding.error(place, cause, cure));
    }

    /** An error at a place that no page shows: a file, an option, a device. */
    public static FindingException of(String place, String cause, String cure) {
        return new FindingException(Finding.error(place, cause, cure));
    }

    public List<Finding> findings() {
        return findings;
    }
}
