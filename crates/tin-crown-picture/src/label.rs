//! Places labels so that none lies on another.

/// A rectangle in pixels.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Area {
    pub x: f64,
    pub y: f64,
    pub width: f64,
    pub height: f64,
}

impl Area {
    pub fn meets(&self, other: &Area) -> bool {
        self.x < other.x + other.width
            && other.x < self.x + self.width
            && self.y < other.y + other.height
            && other.y < self.y + self.height
    }
}

/// Moves each label up, or where there is no more room above down, until it is free of those placed
/// before it and, if that can be, of `obstacles`, within `frame`. One for which there is no room at
/// all is `None`.
pub(crate) fn spread(labels: &[Area], obstacles: &[Area], frame: Area) -> Vec<Option<Area>> {
    let mut placed: Vec<Area> = Vec::new();
    let place = |label: &Area| {
        let mut home = *label;
        home.x = home
            .x
            .clamp(frame.x, (frame.x + frame.width - home.width).max(frame.x));
        home.y = home
            .y
            .clamp(frame.y, (frame.y + frame.height - home.height).max(frame.y));
        let steps = (frame.height / 4.0) as i32;
        let tried = (0..steps).flat_map(|step| [-step, step]).map(|step| Area {
            y: home.y + 4.0 * f64::from(step),
            ..home
        });
        let within =
            |area: &Area| area.y >= frame.y && area.y + area.height <= frame.y + frame.height;
        let clear = |others: &[Area], area: &Area| !others.iter().any(|other| other.meets(area));
        let mut possible = tried.filter(|area| within(area) && clear(&placed, area));
        let first = possible.next();
        let best = first
            .into_iter()
            .chain(possible)
            .find(|area| clear(obstacles, area));
        let free = best.or(first);
        placed.extend(free);
        free
    };
    labels.iter().map(place).collect()
}
