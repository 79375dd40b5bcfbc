//! The harbour pennant: a flat emblem drawn as SVG, its face on the bed, all its colours in the first layer.

use varichrom_core::drawing::{Base, DrawingOptions, Drawn, Flatwork, Said, Side};

/// File name of the drawing.
pub const PENNANT_FILE: &str = "harbour-pennant.svg";

/// The drawing.
pub const PENNANT: &str = r##"<svg xmlns="http://www.w3.org/2000/svg" width="72mm" height="44mm" viewBox="0 0 72 44">
  <path id="Field" fill="#203550" d="M0 0 L72 18 V26 L0 44 Z"/>
  <path id="Panel" fill="#eee7d6" d="M3.6 4.8 L50 16.4 V27.6 L3.6 39.2 Z"/>
  <circle id="Disc" cx="18.4" cy="22" r="10.4" fill="#c8442f"/>
  <path id="Star" fill="#a8784c" d="M18.4 13.2 L20.5 19.2 L26.9 19.3 L21.8 23.1 L23.7 29.2 L18.4 25.6 L13.1 29.2 L15 23.1 L9.9 19.3 L16.3 19.2 Z"/>
  <g fill="none" stroke="#203550" stroke-width="1" stroke-linecap="round">
    <path d="M33.5 20.2 q2.7 -3 5.4 0 t5.4 0"/>
    <path d="M33.5 24.4 q2.7 -3 5.4 0 t5.4 0"/>
  </g>
</svg>
"##;

/// The model that the drawing becomes: four colours in one layer on the bed, mirrored, and a plate above.
pub fn pennant_model() -> Vec<u8> {
    let mut drawn = Drawn {
        bytes: PENNANT.as_bytes().to_vec(),
        said: Said {
            file: PENNANT_FILE.into(),
            options: DrawingOptions::default(),
            work: Flatwork::plain(0, 0.2),
            stacking: None,
        },
    };
    let flat = drawn.flat(&|_| true).expect("a drawing");
    let work = &mut drawn.said.work;
    *work = Flatwork::plain(flat.inks.len(), 0.2);
    work.base = Some(Base {
        ink: 0,
        thickness_mm: 0.8,
        margin_mm: 0.0,
    });
    work.side = Side::Bed;
    drawn.model(&flat).expect("a model")
}
