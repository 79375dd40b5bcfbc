//! Colours that files carry where their format has no place for them, or none any more.

use crate::sample_files::{cube, open, threemf_of};
use rstest::rstest;
use varichrom_core::colour::Colour;
use varichrom_core::formats::NO_COLOUR;
use varichrom_core::formats::threemf_names::CORE;
use varichrom_demo::{box_mesh, stl, threemf_package};

/// A box of twelve facets as binary STL with a header and two spare bytes a facet.
fn boxed(header: &[u8], words: impl Fn(usize) -> u16) -> Vec<u8> {
    let mut bytes = stl(&box_mesh([0.0; 3], [10.0; 3]), "");
    bytes[..80].fill(b' ');
    bytes[..header.len()].copy_from_slice(header);
    for facet in 0..12 {
        let at = 84 + 50 * facet + 48;
        bytes[at..at + 2].copy_from_slice(&words(facet).to_le_bytes());
    }
    bytes
}

const OWN: u16 = 1 << 15;

#[test]
fn spare_words_with_their_flag_are_colours_with_blue_in_the_lowest_bits() {
    let words = |f: usize| [0, OWN | 31 << 10, OWN | 31 << 5, OWN | 31, OWN | 16 << 10][f % 5];
    let open = open(&boxed(b"made by hand", words));
    let colours = open.origin.colours.as_ref().expect("colours");
    let of = |f: usize| {
        (colours.facets[f] != NO_COLOUR).then(|| colours.palette[colours.facets[f] as usize].colour)
    };
    assert_eq!(of(0), None);
    assert_eq!(of(1), Some(Colour([255, 0, 0])));
    assert_eq!(of(2), Some(Colour([0, 255, 0])));
    assert_eq!(of(3), Some(Colour([0, 0, 255])));
    assert_eq!(of(4), Some(Colour([132, 0, 0])));
    assert!(open.origin.left_out.is_empty());
    assert!(!open.origin.cannot_say().contains("colours"));
}

#[test]
fn a_header_with_a_colour_turns_flag_and_channels_round() {
    let header = b"COLOR=\x20\x40\x60\xff and more";
    let own = open(&boxed(header, |f| if f < 2 { 31 } else { OWN }));
    let colours = own.origin.colours.as_ref().expect("colours");
    let seen: Vec<Colour> = colours.palette.iter().map(|c| c.colour).collect();
    assert_eq!(seen, [Colour([255, 0, 0]), Colour([0x20, 0x40, 0x60])]);
    assert_eq!(colours.facets[..3], [0, 0, 1]);
    let common = open(&boxed(header, |_| 0));
    let colours = common.origin.colours.as_ref().expect("colours");
    assert_eq!(
        (colours.palette.len(), colours.palette[0].colour),
        (1, Colour([0x20, 0x40, 0x60]))
    );
}

#[rstest]
#[case::other_bytes(|f| if f == 3 { 5 } else { 0 }, 1)]
#[case::a_mixture(|f| if f == 3 { 5 } else { OWN | 7 }, 12)]
fn words_without_an_agreed_meaning_are_said(#[case] words: fn(usize) -> u16, #[case] count: usize) {
    let found = open(&boxed(b"", words));
    assert!(found.origin.colours.is_none());
    let said = found.origin.left_out.join(" ");
    assert!(
        said.contains(&format!("what {count} facet")) && said.contains("no agreed meaning"),
        "{said}"
    );
    assert!(open(&boxed(b"", |_| 0)).origin.left_out.is_empty());
}

#[test]
fn a_3mf_of_the_draft_of_2013_opens_and_says_that_its_colours_stay_behind() {
    const DRAFT: &str = "http://schemas.microsoft.com/3dmanufacturing/2013/01";
    let resources = format!(
        r##"<color id="7" value="#FF0000"/><object id="1">{}</object>"##,
        cube(r#"colorid="7""#)
    );
    let now = threemf_of(&resources, r#"<item objectid="1"/>"#);
    assert!(open(&now).origin.left_out.is_empty());
    let text = format!(
        r#"<?xml version="1.0"?><model unit="millimeter" xmlns="{DRAFT}"><resources>{resources}</resources><build><item objectid="1"/></build></model>"#
    );
    assert_ne!(CORE, DRAFT);
    let old = open(&threemf_package(&text));
    assert_eq!(old.mesh.facets.len(), 12);
    let said = old.origin.left_out.join(" ");
    assert!(said.contains("colours of the 3MF draft of 2013"), "{said}");
}
