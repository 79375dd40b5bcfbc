//! The real pointer and keyboard.

use anyhow::{Context, Result, bail};
use fantoccini::actions::{
    InputSource, KeyAction, KeyActions, MOUSE_BUTTON_LEFT, MouseActions, PointerAction,
};
use fantoccini::{Client, Locator};
use std::time::{Duration, Instant};

/// From one point of a drawing to the next it takes this long, so that the page sees it move.
const STEP: Duration = Duration::from_millis(60);

fn to(x: f64, y: f64, duration: Duration) -> PointerAction {
    PointerAction::MoveTo {
        duration: Some(duration),
        x,
        y,
    }
}

/// Lets the page take in what happened: its handlers, what they draw, and what follows from that. On a busy machine this
/// takes longer than on an idle one, and what is read or pressed next must not meet the page of before.
pub(crate) async fn taken_in(client: &Client) -> Result<()> {
    const FRAMES: &str = "
        const done = arguments[arguments.length - 1];
        let left = 3;
        const next = () => (left-- > 0 ? requestAnimationFrame(() => setTimeout(next)) : done(null));
        next();";
    client.execute_async(FRAMES, Vec::new()).await?;
    Ok(())
}

/// Waits until something stands where it stands: what opens is drawn before it has its place, and a press on where it was first
/// goes beside it.
pub(crate) async fn still(client: &Client, css: &str) -> Result<()> {
    const FRAMES: &str = "
        const [css, done] = [arguments[0], arguments[arguments.length - 1]];
        let [last, same] = ['', 0];
        const next = () => {
            const now = JSON.stringify(document.querySelector(css)?.getBoundingClientRect() ?? null);
            same = now === last ? same + 1 : 0;
            last = now;
            same < 4 ? requestAnimationFrame(() => setTimeout(next)) : done(null);
        };
        next();";
    client.execute_async(FRAMES, vec![css.into()]).await?;
    Ok(())
}

/// Moves the pointer to a point of the page.
pub async fn hover(client: &Client, x: f64, y: f64) -> Result<()> {
    // Two moves: the first may only enter the element.
    let mouse = MouseActions::new("mouse".into())
        .then(to(x - 2.0, y, Duration::from_millis(30)))
        .then(to(x, y, Duration::from_millis(60)));
    client.perform_actions(mouse).await?;
    taken_in(client).await
}

/// Moves the pointer there and clicks.
pub async fn press(client: &Client, x: f64, y: f64) -> Result<()> {
    hover(client, x, y).await?;
    let mouse = MouseActions::new("mouse".into())
        .then(PointerAction::Down {
            button: MOUSE_BUTTON_LEFT,
        })
        .then(PointerAction::Up {
            button: MOUSE_BUTTON_LEFT,
        });
    Ok(client.perform_actions(mouse).await?)
}

/// Drags from one point to another.
pub async fn drag(client: &Client, from: (f64, f64), onto: (f64, f64)) -> Result<()> {
    let halfway = (0.5 * (from.0 + onto.0), 0.5 * (from.1 + onto.1));
    draw(client, &[from, halfway, onto]).await
}

/// Draws with the left button held through some points.
pub async fn draw(client: &Client, path: &[(f64, f64)]) -> Result<()> {
    let (first, others) = path.split_first().context("a path")?;
    hover(client, first.0, first.1).await?;
    let mut mouse = MouseActions::new("mouse".into()).then(PointerAction::Down {
        button: MOUSE_BUTTON_LEFT,
    });
    for (x, y) in others {
        mouse = mouse.then(to(*x, *y, STEP));
    }
    let mouse = mouse.then(PointerAction::Up {
        button: MOUSE_BUTTON_LEFT,
    });
    Ok(client.perform_actions(mouse).await?)
}

/// Drags something with the left button and holds it there.
pub async fn hold(client: &Client, from: (f64, f64), onto: (f64, f64)) -> Result<()> {
    hover(client, from.0, from.1).await?;
    let mouse = MouseActions::new("mouse".into())
        .then(PointerAction::Down {
            button: MOUSE_BUTTON_LEFT,
        })
        .then(to(onto.0, onto.1, STEP));
    Ok(client.perform_actions(mouse).await?)
}

/// Lets go of what is held.
pub async fn let_go(client: &Client) -> Result<()> {
    let mouse = MouseActions::new("mouse".into()).then(PointerAction::Up {
        button: MOUSE_BUTTON_LEFT,
    });
    Ok(client.perform_actions(mouse).await?)
}

/// Presses keys together, such as Control and z: all down in order, all up in reverse.
pub async fn chord(client: &Client, keys: &[char]) -> Result<()> {
    let mut actions = KeyActions::new("keys".into());
    for key in keys {
        actions = actions.then(KeyAction::Down { value: *key });
    }
    for key in keys.iter().rev() {
        actions = actions.then(KeyAction::Up { value: *key });
    }
    Ok(client.perform_actions(actions).await?)
}

/// Waits until an element holds a text, and returns all of its text.
pub async fn wait_for_text(client: &Client, css: &str, wanted: &str) -> Result<String> {
    wait_for(client, css, |text| text.contains(wanted))
        .await
        .with_context(|| format!("`{wanted}`"))
}

/// Waits until the text of an element is as wanted, and returns it.
pub async fn wait_for(
    client: &Client,
    css: &str,
    is_wanted: impl Fn(&str) -> bool,
) -> Result<String> {
    const LONGEST: Duration = Duration::from_secs(30);
    let start = Instant::now();
    let mut last = String::from("(no such element)");
    while start.elapsed() < LONGEST {
        if let Ok(element) = client.find(Locator::Css(css)).await
            && let Ok(text) = element.text().await
        {
            if is_wanted(&text) {
                return Ok(text);
            }
            last = text;
        }
        tokio::time::sleep(Duration::from_millis(60)).await;
    }
    bail!("{css} did not come to say what was wanted; it says: {last}")
}
