package boldanvil.app.pages;

import boldanvil.app.page.PageHost;
import boldanvil.app.widget.PopupCard;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.AccessStore;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import java.util.function.Consumer;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.PasswordField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;

/** Asks where a device answers and how to sign in there. What was typed is kept for this user, not in the project. */
final class ConnectCard {
    /** A device and how to sign in. */
    record Connection(Endpoint at, Access access) {
        Place place() {
            return Place.named(at.toString());
        }

        /** @throws FindingException when nothing answers, or the device refuses */
        DeviceLink connect() {
            return LinkProtocol.of(at).tags(at, place(), access);
        }
    }

    private ConnectCard() {}

    /**
     * @param address as it was last
     * @param verb on the button
     */
    static void show(Node near, PageHost host, String address, String verb, Consumer<Connection> take) {
        var store = AccessStore.ofUser();
        var at = Forms.field("connect-at", address, "Protocol, host and port");
        at.setPrefColumnCount(22);
        at.setPromptText("opcua://192.168.0.20:4840");
        var user = Forms.field("connect-user", "", "Empty for nobody in particular");
        var password = new PasswordField();
        password.setId("connect-password");
        var encrypted = new CheckBox("Sign and encrypt");
        encrypted.setId("connect-encrypted");
        Runnable stored = () -> {
            try {
                Access a = store.find(Endpoint.parse(at.getText()));
                user.setText(a.user());
                password.setText(a.password());
                encrypted.setSelected(a.encrypted());
            } catch (FindingException e) {
                // The address is not complete yet.
            }
        };
        stored.run();
        at.focusedProperty().addListener((_, _, on) -> {
            if (!on) {
                stored.run();
            }
        });
        var wrong = new Label();
        wrong.setWrapText(true);
        wrong.setMaxWidth(320);
        wrong.getStyleClass().addAll("small", "bad");
        var ok = new Button(verb);
        ok.setId("connect-ok");
        ok.getStyleClass().add("primary");
        var box = new VBox(8, Forms.grid("Device", at, "User", user, "Password", password), encrypted,
                Forms.faint("Kept in your own folder, not in the project."), wrong, new HBox(ok));
        Popup popup = PopupCard.below(near, box);
        Runnable done = () -> {
            try {
                var endpoint = Endpoint.parse(at.getText());
                var access = new Access(user.getText().strip(), password.getText(), encrypted.isSelected());
                store.put(endpoint, access);
                popup.hide();
                host.attempt(() -> take.accept(new Connection(endpoint, access)));
            } catch (FindingException e) {
                wrong.setText(e.findings().getFirst().cause() + " " + e.findings().getFirst().cure());
            }
        };
        ok.setOnAction(_ -> done.run());
        at.setOnAction(_ -> done.run());
        at.requestFocus();
    }
}
