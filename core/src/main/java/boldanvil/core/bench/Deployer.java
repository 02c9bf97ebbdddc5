package boldanvil.core.bench;

import boldanvil.core.build.Builder;
import boldanvil.core.build.Image;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.user.Log;
import java.io.IOException;
import java.nio.file.Files;
import java.util.Locale;

/** Puts an image on a device, step by step: find it, check who it is and its link, download, verify. */
final class Deployer {
    private static final double SLOW_LINK_SECONDS = 0.1;

    private final Place place;
    private final String board;
    private final String token;
    private final Progress progress;

    /**
     * @param place how findings name the device
     * @param board the board that is wanted
     * @param token what unlocks the device
     */
    Deployer(Place place, String board, String token, Progress progress) {
        this.token = token;
        this.place = place;
        this.board = board;
        this.progress = progress;
    }

    private void step(String name) {
        if (progress.cancelled()) {
            throw FindingException.of(place, "Starting was cancelled before '" + name + "'.", "Start again.");
        }
        progress.step(name);
    }

    /** Does all steps; what the device holds already is not downloaded again. */
    void deploy(Endpoint at, Image image) {
        step("Find " + board);
        try (DeviceLink device = LinkProtocol.of(at).loader(at, place, token)) {
            step("Check identity and link of " + board);
            var id = device.identify();
            if (!id.board().equals(board)) {
                throw FindingException.of(place, "The connected device is a '" + id.board() + "', but the rig needs " + board + ".",
                        "Connect the right device, or choose another in the rig. Nothing was written to it.");
            }
            double seconds = device.roundTrip();
            progress.log(String.format(Locale.ROOT, "%s, serial %s, firmware %s, round trip %.2f ms", id.board(), id.serial(),
                    id.firmware(), seconds * 1e3));
            if (seconds > SLOW_LINK_SECONDS) {
                throw FindingException.of(place, String.format(Locale.ROOT, "The link is too slow: a request takes %.0f ms.",
                        seconds * 1e3), "Reduce the traffic on the link, or use a faster one.");
            }
            byte[] bytes = Files.readAllBytes(image.file());
            if (!Builder.sha256(bytes).equals(image.sha256())) {
                throw FindingException.of(image.file().toString(), "The image was changed after it was built.",
                        "Build again, and find out which program writes to the folder.");
            }
            if (holds(device, id, image, bytes)) {
                progress.log("The device already has this build.");
                return;
            }
            step("Download to " + board);
            device.deploy(bytes, progress::share, progress::cancelled);
            step("Verify " + board);
            device.verify(bytes);
            device.deployed();
            progress.log("The device has the image built here, " + image.bytes() + " bytes, SHA-256 " + image.sha256()
                    .substring(0, 12) + "…");
        } catch (IOException e) {
            throw FindingException.of(image.file().toString(), "The image cannot be read: " + e.getMessage() + ".", "Build again.");
        }
    }

    private static boolean holds(DeviceLink device, DeviceLink.Identity id, Image image, byte[] bytes) {
        if (!id.image().equals(image.sources()) || !id.digest().equals(image.sha256())) {
            return false;
        }
        try {
            device.verify(bytes);
            return true;
        } catch (FindingException e) {
            Log.ignored(Deployer.class, e, "The image on the device differs from its stamp; it is downloaded again.");
            return false;
        }
    }
}
