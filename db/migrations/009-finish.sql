-- How layers are finished: glow, blur, blend, mask, and how their shadow lies.
UPDATE layer SET data = json_set(data, '$.finish', json('{"blend":"normal","outerGlow":null,"innerGlow":null,"blur":null,"mask":null,"shadow":{"angleDeg":90,"distance":0.35,"softness":0.6,"colour":"#000000a0"}}'));
