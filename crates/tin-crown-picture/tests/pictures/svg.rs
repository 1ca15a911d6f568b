//! Reading pictures back.

use quick_xml::Reader;
use quick_xml::events::Event;

/// All texts of a picture, unescaped; fails when it is not well-formed.
pub fn texts(svg: &str) -> Vec<String> {
    let mut reader = Reader::from_str(svg);
    reader.config_mut().check_end_names = true;
    let (mut texts, mut text) = (Vec::new(), None::<String>);
    loop {
        match reader.read_event().expect("well-formed") {
            Event::Eof => return texts,
            Event::Start(start) if start.name().as_ref() == "text" => text = Some(String::new()),
            Event::End(end) if end.name().as_ref() == "text" => texts.extend(text.take()),
            Event::Text(more) => {
                if let Some(text) = &mut text {
                    text.push_str(&more);
                }
            }
            Event::GeneralRef(reference) => {
                let name: &str = &reference;
                let entity = format!("&{name};");
                let character = quick_xml::escape::unescape(&entity).expect("known");
                if let Some(text) = &mut text {
                    text.push_str(&character);
                }
            }
            _ => {}
        }
    }
}
